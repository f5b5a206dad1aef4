// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/design/text_pattern.h"
#include "engine/extent/length.h"
#include "engine/record/record_table.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

enum class PartType : std::uint8_t { Text, Picture, Line, Space, Row, Column, Over };
enum class Align : std::uint8_t { Start, Center, End, Stretch };
enum class Fit : std::uint8_t { Fit, Fill };

struct TextStyle {
    Length size = Length::px(15); ///< at text scale 1
    int weight = 400;             ///< 100 to 900
    bool italic = false;
    bool operator==(const TextStyle&) const = default;
};

/// An item design as written: a tree of parts. Lengths are density-independent px.
struct PartSpec {
    PartType type = PartType::Column;
    std::string binding; ///< Text: what it says. Picture: its address. A MessageFormat pattern.
    std::optional<std::string> missing; ///< what a text says when a field is missing; else it is left out
    TextStyle style;
    std::string colour = "ink"; ///< a role (ink, quiet, accent, faint, good, caution, bad, paper) or #rrggbb
    std::string ground;         ///< what a box, or a text, stands on; empty: nothing
    int lines = 1;              ///< at most; 0: as many as it takes
    Align align = Align::Stretch; ///< Boxes: across their axis. Text: its lines. Over: where a child stands.
    double grow = 0;              ///< share of what is left along the box
    Length gap;                   ///< between children
    std::array<Length, 4> padding{}; ///< top, end, bottom, start
    std::optional<Length> width;
    std::optional<Length> height;
    double aspect = 0; ///< Picture: width / height where one of them is open
    Fit fit = Fit::Fill;
    Length radius;
    std::vector<PartSpec> children;
    std::string pointer; ///< where it stands in the document
};

/// One part of a compiled design. Parts lie in preorder: the children of part i are found by stepping from i
/// + 1 over `subtreeEnd` until its own.
struct PlanPart {
    PartType type = PartType::Column;
    Align align = Align::Stretch;
    Fit fit = Fit::Fill;
    int subtreeEnd = 0;
    int binding = -1; ///< index of its pattern and of its value in an ItemContent
    int style = -1;   ///< index into styles()
    int lines = 1;
    double grow = 0;
    double aspect = 0;
    Length gap;
    std::array<Length, 4> padding{};
    Length width = Length::fromRaw(-1); ///< negative: open
    Length height = Length::fromRaw(-1);
    Length radius;
    std::string colour;
    std::string ground;
    std::string missing;
    bool hasMissing = false;
};

/// What one item shows: the outcome of every binding, kept so that the next fill can tell what differs.
struct ItemContent {
    std::vector<std::string> values;
    std::vector<std::uint8_t> present;
};

/// A compiled item design: a flat fill plan.
///
/// Complexity  fill is O(bindings), whatever the design's depth.
/// Ownership   Owns everything it needs but the records, which come in with each call.
/// Threads     One thread at a time (see TextPattern); a worker compiles its own.
/// Errors      compile: NotFound, Syntax, Invalid or TooLarge, located by the part's JSON Pointer.
class ItemDesign {
public:
    static constexpr int kMaxParts = 1000;

    static Result<ItemDesign> compile(const PartSpec& root, const RecordTable& fields,
                                      const std::string& locale);

    const std::vector<PlanPart>& parts() const { return parts_; }
    const std::vector<TextStyle>& styles() const { return styles_; }
    std::size_t bindingCount() const { return patterns_.size(); }

    /// Puts the record's values into `content`; sets `changed[b]` for each binding whose outcome differs from
    /// what was there. A negative record fills fixed texts only (headers and footers).
    void fill(const RecordTable& table, std::int64_t record, ItemContent& content,
              std::vector<std::uint8_t>& changed) const;

private:
    Outcome add(const PartSpec& spec, const RecordTable& fields, const std::string& locale, int depth);

    std::vector<PlanPart> parts_;
    std::vector<TextStyle> styles_;
    std::vector<TextPattern> patterns_;
    std::vector<int> partOfBinding_;
    mutable std::string scratch_;
};

} // namespace scorrere
