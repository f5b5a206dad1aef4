// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/design_facts.h"

#include "render/live_designs.h"
#include "workbench/model/hard_records.h"

#include <set>

namespace scorrere::workbench {

namespace {

/// What a design reads: the records, or what a section says.
DesignScope scopeOf(const CollectionDocument& document, int which, const RecordTable& records) {
    static const RecordTable ofSection = render::sectionRecord({}, 0);
    return document.scope(isOfSections(which) ? ofSection : records);
}

std::vector<int> designsOf(const CollectionDocument& document) {
    std::vector<int> all{kRecordDesign, kHeaderDesign, kFooterDesign};
    for (int kind = 0; kind < static_cast<int>(document.kinds.size()); ++kind) {
        all.push_back(kind);
    }
    if (document.arrangement.sections) {
        all.insert(all.end(), {kSectionHeaderDesign, kSectionFooterDesign});
    }
    if (std::holds_alternative<TableSpec>(document.arrangement.form)) {
        all.push_back(kHeadingDesign);
    }
    if (document.detail) {
        all.push_back(kDetailDesign);
    }
    return all;
}

} // namespace

std::vector<std::string> absentFields(const CollectionDocument& document, const RecordTable& records) {
    std::set<std::string> names;
    if (records.fields().empty()) {
        return {};
    }
    const DesignScope scope = document.scope(records);
    for (const int which : designsOf(document)) {
        if (const auto design =
                ItemDesign::compile(designOf(document, which), scopeOf(document, which, records))) {
            names.insert(design->absentFields().begin(), design->absentFields().end());
        }
    }
    if (const auto kinds = KindChooser::compile(document.kinds, scope)) {
        const auto absent = kinds->absentFields();
        names.insert(absent.begin(), absent.end());
    }
    return {names.begin(), names.end()};
}

std::optional<Error> designProblem(const CollectionDocument& document, const RecordTable* records,
                                   const std::string& text) {
    const auto made = document.withDesign(text);
    if (!made) {
        return made.error();
    }
    if (records == nullptr || records->fields().empty()) {
        return std::nullopt;
    }
    if (auto problem = render::tableProblem(*made)) {
        return problem;
    }
    const DesignScope scope = made->scope(*records);
    for (const int which : designsOf(*made)) {
        if (auto design = ItemDesign::compile(designOf(*made, which), scopeOf(*made, which, *records));
            !design) {
            return made->located(std::move(design.error()));
        }
    }
    if (auto kinds = KindChooser::compile(made->kinds, scope); !kinds) {
        return made->located(std::move(kinds.error()));
    }
    return std::nullopt;
}

std::vector<std::pair<std::string, std::string>> stripsAlong(const CollectionDocument& document) {
    std::vector<std::pair<std::string, std::string>> found;
    int which = kFirstEntryDesign;
    for (const auto& [pointer, arrangement] : document.strips) {
        const PartSpec* strip = stripOf(document, which--);
        if (strip != nullptr &&
            arrangement.sideways.has_value() == document.arrangement.sideways.has_value()) {
            found.emplace_back(pointer, strip->binding);
        }
    }
    return found;
}

} // namespace scorrere::workbench
