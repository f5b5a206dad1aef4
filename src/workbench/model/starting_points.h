// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/record/record_table.h"

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// How a field's values are best written in a text.
struct FieldWriting {
    std::string pattern;     ///< {seen, date, medium}, {wingspan_mm, number, ::unit/millimeter}
    std::string label;       ///< what the field is called, without the unit its name ends in: "wingspan"
    bool saysItself = false; ///< a date, a text, a number with its unit: it needs no label
};
/// A time without hours shows none; numbers that name something (ids, years) are not grouped; units that a
/// name ends in become units.
///
/// Complexity  O(1) over at most 300 records.
FieldWriting fieldWriting(const RecordTable& records, FieldHandle field);

/// What a field is good for in a design, from its name, type and a sample of its values.
struct FieldRoles {
    std::string title;   ///< what reads like one: by its name, and a text of moderate length that differs
    std::string detail;  ///< another
    std::string body;    ///< the longest text
    std::string picture; ///< an address of pictures
    std::string status;  ///< a text with few values
    std::string second;  ///< another, or yes-no
    std::string number;
    std::string step; ///< a small whole number
    std::string time;
    std::string list;
};
/// Complexity  O(fields) over at most 300 records.
FieldRoles fieldRoles(const RecordTable& records);

/// A design to begin with, bound to the fields that fit it.
struct StartingPoint { // NOLINT(bugprone-exception-escape): an empty JSON value does not throw
    std::string name;  ///< "picture beside text"
    std::string about;
    nlohmann::ordered_json design;
};
/// The six of them: one line, title and detail, picture beside text, picture card, reading, full-bleed
/// picture. Parts that no field fits are left out. `pictures`: a URI template that puts a picture's field
/// into an address, as wings/{picture}; empty: the field is the address.
std::vector<StartingPoint> startingPoints(const RecordTable& records, const std::string& pictures = {});

/// A rule that one of the records meets and not all, to begin a kind with: what its status, or its title, is.
/// All of them where there is nothing to tell them by.
std::string kindRule(const RecordTable& records);

/// Whether a field's name can stand in a text pattern: letters, digits and _ of any script, no digit first.
bool isPatternName(const std::string& name);

} // namespace scorrere::workbench
