// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/source_edit.h"

#include "engine/record/local_values.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

using NamedValues = std::vector<std::pair<std::string, std::string>>;

void put(NamedValues& values, const std::string& name, const std::string& value) {
    std::erase_if(values, [&](const auto& known) { return known.first == name; });
    if (!value.empty()) {
        values.emplace_back(name, value);
    }
}

} // namespace

SourceSpec withField(SourceSpec source, const std::string& field,
                     const std::function<void(FieldChoice&)>& change) {
    auto& choices = source.reading.fields;
    auto found = std::ranges::find(choices, field, &FieldChoice::name);
    if (found == choices.end()) {
        choices.emplace_back();
        found = choices.end() - 1;
        found->name = field;
    }
    change(*found);
    std::erase_if(choices, std::mem_fn(&FieldChoice::isEmpty));
    return source;
}

SourceSpec withLocale(SourceSpec source, const std::string& field, const std::string& locale, FieldType type,
                      const std::vector<std::string>& samples) {
    if (locale.empty()) {
        type = FieldType::Unknown;
    } else if (type != FieldType::Integer && type != FieldType::Real && type != FieldType::Time) {
        const LocalValues local(locale);
        const auto isNumber = [&](const std::string& text) { return local.number(text).has_value(); };
        const auto isWhole = [&](const std::string& text) {
            const auto number = local.number(text);
            return number && number->whole;
        };
        type = !std::ranges::all_of(samples, isNumber) ? FieldType::Time
               : std::ranges::all_of(samples, isWhole) ? FieldType::Integer
                                                       : FieldType::Real;
    }
    return withField(std::move(source), field, [&](FieldChoice& choice) {
        choice.locale = locale;
        choice.type = type;
    });
}

SourceSpec withKey(SourceSpec source, const std::vector<std::string>& now, const std::string& field,
                   bool together) {
    const bool isIn = std::ranges::find(now, field) != now.end();
    if (together) {
        source.key = now;
        if (!isIn) {
            source.key.push_back(field);
        }
    } else if (isIn && !source.key.empty()) {
        source.key = now;
        std::erase(source.key, field);
    } else {
        source.key = {field};
    }
    return source;
}

NewColumn withColumn(SourceSpec source, const JsonOutline& tree, std::string_view text, int items, int node,
                     const std::vector<std::string>& taken) {
    // The pointer starts at the item the node is in.
    std::int32_t item = node;
    while (item >= 0 && tree.nodes[static_cast<std::size_t>(item)].parent != items) {
        item = tree.nodes[static_cast<std::size_t>(item)].parent;
    }
    if (item < 0) {
        return {std::move(source), {}};
    }
    FieldChoice choice;
    choice.path = tree.pointerOf(static_cast<std::size_t>(node), text, item);
    std::string name = choice.path.substr(1);
    std::ranges::replace(name, '/', '_');
    choice.name = name;
    const auto isTaken = [&](const std::string& one) {
        return std::ranges::find(source.reading.fields, one, &FieldChoice::name) !=
                   source.reading.fields.end() ||
               std::ranges::find(taken, one) != taken.end();
    };
    for (int copy = 2; isTaken(choice.name); ++copy) {
        choice.name = name + "_" + std::to_string(copy);
    }
    source.reading.fields.push_back(choice);
    return {std::move(source), choice.name};
}

SourceSpec withVariable(SourceSpec source, const std::string& name, const std::string& value) {
    put(source.variables, name, value);
    return source;
}

SourceSpec withHeader(SourceSpec source, const std::string& name, const std::string& value) {
    put(source.headers, name, value);
    return source;
}

} // namespace scorrere::workbench
