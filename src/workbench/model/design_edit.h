// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/part_spec.h"
#include "engine/document/json_text.h"

#include <QVariant>
#include <cstddef>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// A design as it is edited: the JSON of parameters, pieces and items (CollectionDocument::designText),
/// changed part by part. Parts are named by their JSON Pointer.
///
/// Ownership   A value.
/// Errors      None: an edit that has no meaning (a part moved into itself) is refused and says so with false
///             or an empty pointer. Whether the outcome is a design is for CollectionDocument to say.
class DesignDraft {
public:
    using Json = nlohmann::ordered_json;

    DesignDraft() = default; // NOLINT(bugprone-exception-escape): an empty JSON value does not throw
    /// Not JSON gives an empty draft.
    explicit DesignDraft(const std::string& text);
    std::string text() const { return jsonText(json_) + "\n"; }
    const Json& json() const { return json_; }

    /// The part at a pointer; null when there is none.
    const Json* part(const std::string& pointer) const;
    /// A member of a part as JSON; null when it has none.
    Json member(const std::string& pointer, const std::string& name) const;
    /// Sets a member of a part, or takes it away when the value is null. Also of parameters and kinds.
    bool set(const std::string& pointer, const std::string& name, const Json& value);

    /// Puts a part into a box at a place; gives where it stands then.
    std::string insert(const std::string& box, std::size_t place, const Json& part);
    /// Puts a part beside another: behind it, or before it. A part that stands in no box is put into a column
    /// with it first.
    std::string insertBeside(const std::string& pointer, bool behind, const Json& part);
    /// Gives what to select next.
    std::string remove(const std::string& pointer);
    /// Moves a part into a box at a place, counted before it is taken out; gives where it stands then.
    std::string move(const std::string& from, const std::string& box, std::size_t place);
    /// One place back or on among its siblings.
    std::string step(const std::string& pointer, int by);
    std::string duplicate(const std::string& pointer);
    /// Puts a part into a new box of its own; gives where the part stands then.
    std::string wrap(const std::string& pointer, PartType box);
    /// Puts what a box holds in its place.
    std::string unwrap(const std::string& pointer);
    /// What a part takes at most, px: a line its thickness and a space its length only, along its box. Gives
    /// what the part is.
    std::string resize(const std::string& pointer, double width, double height);
    /// Another value for a parameter that there is: a truth, a number or a text.
    bool setParameter(const std::string& name, const QVariant& value);
    /// Replaces a whole design.
    void replace(const std::string& pointer, const Json& part);

    /// Where a part stands: its box and its place in it; nothing for the root of a design.
    struct Standing {
        std::string box;
        std::string word; ///< "row"
        std::size_t place = 0;
    };
    static std::optional<Standing> standingOf(const std::string& pointer);

private:
    Json* at(const std::string& pointer);
    Json* childrenOf(const std::string& box);

    Json json_;
};

/// Whether two designs differ in the values of their parameters and nothing else.
bool differInValuesOnly(const std::string& a, const std::string& b);
/// The word of a box's list in a part ("row", "column", "over", "wrap"); empty when it is no box.
std::string boxWord(const nlohmann::ordered_json& part);
/// What a part is ("text", "badge"); empty when it does not say.
std::string partWordOf(const nlohmann::ordered_json& part);
/// A part of a kind as it begins its life, with a field where it needs one.
nlohmann::ordered_json newPart(PartType type, const std::string& field);

} // namespace scorrere::workbench
