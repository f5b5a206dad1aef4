// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/format_offers.h"

#include "engine/design/text_pattern.h"

#include <fmt/format.h>
#include <utility>

namespace scorrere::workbench {

namespace {

using Form = std::pair<const char*, const char*>; ///< its name, and what stands behind the field

constexpr Form kTimes[] = {{"day", "date, medium"},
                           {"day, short", "date, short"},
                           {"day, long", "date, long"},
                           {"day and weekday", "date, full"},
                           {"day and month", "date, ::MMMd"},
                           {"month and year", "date, ::yMMMM"},
                           {"year", "date, ::y"},
                           {"time", "time, short"},
                           {"day and time", "date, ::yMMMdjm"},
                           {"how long ago", "relative"}};
constexpr Form kNumbers[] = {{"number", "number"},
                             {"whole", "number, integer"},
                             {"two decimals", "number, ::.00"},
                             {"no thousands marks", "number, ::group-off"},
                             {"short", "number, ::compact-short"},
                             {"per cent", "number, ::percent"},
                             {"per cent of 1", "number, percent"},
                             {"euros", "number, ::currency/EUR"},
                             {"dollars", "number, ::currency/USD"},
                             {"pounds", "number, ::currency/GBP"},
                             {"yen", "number, ::currency/JPY"},
                             {"millimetres", "number, ::unit/millimeter"},
                             {"metres", "number, ::unit/meter"},
                             {"kilometres", "number, ::unit/kilometer"},
                             {"grams", "number, ::unit/gram"},
                             {"kilograms", "number, ::unit/kilogram"},
                             {"degrees Celsius", "number, ::unit/celsius"},
                             {"seconds", "number, ::unit/second"},
                             {"minutes", "number, ::unit/minute"}};

} // namespace

std::vector<FieldArgument> fieldArguments(const std::string& text) {
    std::vector<FieldArgument> all;
    int depth = 0;
    std::size_t open = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '\'' && i + 1 < text.size()) {
            // Two of them are one; one before a brace quotes until the next.
            if (text[i + 1] == '\'') {
                ++i;
            } else if (quoted || text[i + 1] == '{' || text[i + 1] == '}') {
                quoted = !quoted;
            }
        } else if (quoted) {
            continue;
        } else if (text[i] == '{' && depth++ == 0) {
            open = i;
        } else if (text[i] == '}' && depth > 0 && --depth == 0) {
            std::string name = text.substr(open + 1, text.find_first_of(",}", open) - open - 1);
            name.erase(0, name.find_first_not_of(' '));
            name.erase(name.find_last_not_of(' ') + 1);
            if (!name.empty() && name[0] != '$') {
                all.push_back({name, open, i + 1});
            }
        }
    }
    return all;
}

std::vector<FormatOffer> formatOffers(const NameScope& scope, const std::string& field,
                                      const FillContext& record) {
    const auto handle = scope.records.find(field);
    if (!handle) {
        return {};
    }
    const FieldType type = scope.records.field(*handle).type;
    std::vector<FormatOffer> offers;
    const auto offer = [&](const char* name, const std::string& argument) {
        const auto pattern = TextPattern::compile(argument, scope);
        std::string outcome;
        if (pattern && pattern->format(record, outcome) && !outcome.empty()) {
            offers.push_back({name, argument, outcome});
        }
    };
    const bool isTime = type == FieldType::Time;
    if (!isTime && type != FieldType::Integer && type != FieldType::Real) {
        return {};
    }
    offer("as it is", fmt::format("{{{}}}", field));
    const auto offerAll = [&](const auto& forms) {
        for (const auto& [name, form] : forms) {
            offer(name, fmt::format("{{{}, {}}}", field, form));
        }
    };
    if (isTime) {
        offerAll(kTimes);
        return offers;
    }
    offerAll(kNumbers);
    if (type == FieldType::Integer) {
        offer("counted", fmt::format("{{{}, plural, one {{# thing}} other {{# things}}}}", field));
    }
    return offers;
}

} // namespace scorrere::workbench
