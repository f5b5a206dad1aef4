// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/board_table.h"

#include "render/steady_watch.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr std::int64_t kSeen =
    24; ///< records whose cells say how wide columns are while a heading is looked at

} // namespace

BoardTable::BoardTable(const CollectionDocument& document, std::shared_ptr<const RecordTable> records)
    : document_(document), records_(std::move(records)) {}

std::unique_ptr<BoardTable> BoardTable::make(const CollectionDocument& document, int which,
                                             const ItemDesign& design,
                                             const std::shared_ptr<const RecordTable>& records,
                                             const std::vector<BoardSetting>& settings) {
    const auto* spec = std::get_if<TableSpec>(&document.arrangement.form);
    if (spec == nullptr || (!isOfRecords(which) && which != kHeadingDesign) || which == kDetailDesign ||
        !TableColumns::areIn(design)) {
        return nullptr;
    }
    const DesignScope scope = document.scope(*records);
    auto item = ItemDesign::compile(document.item, scope);
    auto heading = ItemDesign::compile(document.heading, scope);
    if (!item || !heading) {
        return nullptr;
    }
    std::unique_ptr<BoardTable> made(new BoardTable(document, records));
    made->headingDesign_ = std::make_unique<ItemDesign>(std::move(*heading));
    made->showsHeading_ = spec->heading && isOfRecords(which);
    const std::array<const ItemDesign*, 3> all{&*item, &design, made->headingDesign_.get()};
    for (const BoardSetting& setting : settings) {
        Set& set = *made->settings_.emplace_back(std::make_unique<Set>());
        set.width = setting.width;
        set.columns = TableColumns(all);
        set.columns.setRoom(Length::fromPx(setting.width));
        set.fonts = std::make_unique<render::FontSet>(*made->headingDesign_, setting.textScale);
        set.heading.build(*made->headingDesign_);
        made->fillHeading(set);
        if (which == kRecordDesign) {
            continue;
        }
        render::ItemView view;
        view.build(*item);
        const render::FontSet fonts(*item, setting.textScale);
        render::TextCache texts(kTextBytes);
        render::SteadyWatch watch;
        CostMeter meter(watch);
        for (std::int64_t record = 0; record < std::min(records->size(), kSeen); ++record) {
            view.fill({*records, record, &document.parameters, nowOf(document), nullptr, -1, 0},
                      {fonts, texts, nullptr},
                      {Length::fromPx(set.width), false, {}, &set.columns, set.columns.revision()}, meter);
        }
    }
    return made;
}

ItemRoom BoardTable::room(std::size_t setting, Length width) {
    TableColumns& of = columns(setting);
    return {width, false, {}, &of, of.revision()};
}

void BoardTable::fillHeading(Set& set) {
    render::SteadyWatch watch;
    CostMeter meter(watch);
    set.heading.fill({*records_, -1, &document_.parameters, nowOf(document_), nullptr, -1, 0},
                     {*set.fonts, texts_, nullptr},
                     {Length::fromPx(set.width), false, {}, &set.columns, set.columns.revision()}, meter);
}

const render::ItemView* BoardTable::heading(std::size_t setting) {
    if (!showsHeading_) {
        return nullptr;
    }
    fillHeading(*settings_[setting]);
    return &settings_[setting]->heading;
}

} // namespace scorrere::workbench
