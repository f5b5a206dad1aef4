// SPDX-License-Identifier: Apache-2.0
#include "engine/design/item_design.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere {

namespace {

constexpr int kMaxDepth = 32;

Error located(Error error, const PartSpec& spec, const char* member) {
    error.place.pointer = spec.pointer + member;
    return error;
}

} // namespace

Result<ItemDesign> ItemDesign::compile(const PartSpec& root, const RecordTable& fields,
                                       const std::string& locale) {
    ItemDesign design;
    if (Outcome added = design.add(root, fields, locale, 0); !added) {
        return std::move(added.error());
    }
    return design;
}

Outcome ItemDesign::add(const PartSpec& spec, const RecordTable& fields, const std::string& locale,
                        int depth) {
    if (static_cast<int>(parts_.size()) >= kMaxParts || depth > kMaxDepth) {
        return located({ErrorCode::TooLarge,
                        fmt::format("an item design may hold {} parts, {} deep", kMaxParts, kMaxDepth),
                        "Make the design simpler.",
                        {}},
                       spec, "");
    }
    const std::size_t index = parts_.size();
    PlanPart part;
    part.type = spec.type;
    part.align = spec.align;
    part.fit = spec.fit;
    part.lines = spec.lines;
    part.grow = spec.grow;
    part.aspect = spec.aspect;
    part.gap = spec.gap;
    part.padding = spec.padding;
    part.width = spec.width.value_or(Length::fromRaw(-1));
    part.height = spec.height.value_or(Length::fromRaw(-1));
    part.radius = spec.radius;
    part.colour = spec.colour;
    part.ground = spec.ground;
    part.missing = spec.missing.value_or("");
    part.hasMissing = spec.missing.has_value();
    if (spec.type == PartType::Text || spec.type == PartType::Picture) {
        auto pattern = TextPattern::compile(spec.binding, fields, locale);
        if (!pattern) {
            return located(std::move(pattern.error()), spec,
                           spec.type == PartType::Text ? "/text" : "/picture");
        }
        part.binding = static_cast<int>(patterns_.size());
        patterns_.push_back(std::move(*pattern));
        partOfBinding_.push_back(static_cast<int>(index));
    }
    if (spec.type == PartType::Text) {
        auto style = std::ranges::find(styles_, spec.style);
        if (style == styles_.end()) {
            style = styles_.insert(styles_.end(), spec.style);
        }
        part.style = static_cast<int>(style - styles_.begin());
    }
    parts_.push_back(std::move(part));
    for (const PartSpec& child : spec.children) {
        if (Outcome added = add(child, fields, locale, depth + 1); !added) {
            return added;
        }
    }
    parts_[index].subtreeEnd = static_cast<int>(parts_.size());
    return done();
}

void ItemDesign::fill(const RecordTable& table, std::int64_t record, ItemContent& content,
                      std::vector<std::uint8_t>& changed) const {
    content.values.resize(patterns_.size());
    changed.assign(patterns_.size(), 0);
    const bool first = content.present.size() != patterns_.size();
    content.present.resize(patterns_.size());
    for (std::size_t b = 0; b < patterns_.size(); ++b) {
        const PlanPart& part = parts_[static_cast<std::size_t>(partOfBinding_[b])];
        bool present = record >= 0 || patterns_[b].isFixed();
        if (present) {
            present = patterns_[b].format(table, record, scratch_);
        }
        if (!present) {
            scratch_ = part.missing;
            present = part.hasMissing;
        }
        present = present && !scratch_.empty();
        if (first || (content.present[b] != 0) != present || content.values[b] != scratch_) {
            content.values[b].assign(scratch_);
            content.present[b] = present ? 1 : 0;
            changed[b] = 1;
        }
    }
}

} // namespace scorrere
