// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/board_model.h"

#include "render/live_collection.h"
#include "workbench/model/board_table.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include <set>

namespace scorrere::workbench {

namespace {

constexpr std::int64_t kTextBudget = std::int64_t{16} << 20;
constexpr std::int64_t kStripTextBudget = std::int64_t{4} << 20;
constexpr std::int64_t kLookedAtForEntries = 48; ///< records
constexpr std::size_t kOfEach = 3;               ///< of the longest, the shortest and the first entries

QString tr(const char* text) {
    return QCoreApplication::translate("Board", text);
}

} // namespace

QString reasonInWords(Extreme why, std::int64_t measure) {
    switch (why) {
    case Extreme::Shortest:
        return tr("shortest");
    case Extreme::Median:
        return tr("median");
    case Extreme::Tallest:
        return tr("tallest");
    case Extreme::MostMissing:
        return measure > 0 ? tr("%1 values missing").arg(measure) : tr("most missing");
    case Extreme::LongestWord:
        return measure > 0 ? tr("longest word, %1 letters").arg(measure) : tr("longest word");
    case Extreme::MostCut:
        return measure > 0 ? tr("most cut, %1 px of text").arg(measure) : tr("most cut");
    case Extreme::NoText:
        return measure > 1 ? tr("%1 texts have nothing to say").arg(measure)
                           : tr("a text has nothing to say");
    case Extreme::Sample:
        return tr("one of the others");
    case Extreme::RightToLeft:
        return tr("right to left");
    case Extreme::MostEntries:
        return measure > 0 ? tr("most entries, %1").arg(measure) : tr("most entries");
    case Extreme::NoPicture:
        return tr("no picture");
    case Extreme::PictureMissing:
        return tr("picture missing");
    case Extreme::WidestPicture:
        return tr("widest picture");
    case Extreme::TallestPicture:
        return tr("tallest picture");
    }
    return {};
}

QString faultInWords(const LayoutFault& fault, const ItemDesign& design) {
    const QString part =
        QString::fromLatin1(partWord(design.parts()[static_cast<std::size_t>(fault.part)].type));
    const QString by = QString::number(std::max(std::round(fault.by.toPx() * 10) / 10, 0.1));
    switch (fault.kind) {
    case LayoutFault::Kind::Outside:
        return tr("%1 falls outside by %2").arg(part, by);
    case LayoutFault::Kind::Squeezed:
        return tr("%1 is squeezed by %2").arg(part, by);
    case LayoutFault::Kind::Cut:
        return tr("%1 is cut off by %2").arg(part, by);
    }
    return {};
}

BoardModel::BoardModel() : texts_(kTextBudget), stripTexts_(kStripTextBudget) {}
BoardModel::~BoardModel() = default;

void BoardModel::setRecords(std::shared_ptr<const RecordTable> records) {
    if (records_ && records && records_->fields().size() != records->fields().size()) {
        specimens_.clear(); // they read fields by handle
        places_.clear();
        design_.reset();
        table_.reset();
    }
    records_ = std::move(records);
}

FillContext BoardModel::context(const Specimen& specimen) const {
    const auto list = entries_.find(specimen.entry < 0 ? -1 : specimen.record);
    return {table(),
            specimen.record,
            &document_.parameters,
            nowMs_,
            list == entries_.end() ? nullptr : &list->second,
            specimen.entry,
            0,
            false,
            state_};
}

void BoardModel::setState(ItemState state) {
    if (!(state == state_)) {
        state_ = state;
        refill();
    }
}

Outcome BoardModel::setDesign(const CollectionDocument& document, int which) {
    if (!records_) {
        document_ = document;
        which_ = which;
        return done();
    }
    auto sections = isOfSections(which)
                        ? std::make_unique<const RecordTable>(sectionSpecimens(document, *records_))
                        : nullptr;
    DesignScope scope = document.scope(sections ? *sections : *records_);
    scope.isEntry = isOfEntries(which);
    auto compiled = ItemDesign::compile(designOf(document, which), scope);
    if (!compiled) {
        return document.located(std::move(compiled.error()));
    }
    auto design = std::make_unique<ItemDesign>(std::move(*compiled));
    // Kept shapes belong to a face: where the styles stay, so do they.
    const bool sameFonts =
        design_ && design_->styles() == design->styles() && fonts_.size() == settings_.size();
    specimens_.clear();
    sections_ = std::move(sections);
    document_ = document;
    which_ = which;
    nowMs_ = nowOf(document);
    design_ = std::move(design);
    table_ = BoardTable::make(document, which, *design_, records_, settings_);
    if (!sameFonts) {
        texts_.clear();
        fonts_.clear();
        for (const BoardSetting& setting : settings_) {
            fonts_.push_back(std::make_unique<render::FontSet>(*design_, setting.textScale));
        }
    }
    makeStripFonts();
    rebuild();
    return done();
}

void BoardModel::setSettings(std::vector<BoardSetting> settings) {
    if (settings.empty() || settings == settings_) {
        return;
    }
    settings_ = std::move(settings);
    specimens_.clear();
    places_.clear();
    texts_.clear();
    fonts_.clear();
    if (design_) {
        for (const BoardSetting& setting : settings_) {
            fonts_.push_back(std::make_unique<render::FontSet>(*design_, setting.textScale));
        }
        table_ = BoardTable::make(document_, which_, *design_, records_, settings_);
        makeStripFonts();
        rebuild();
    }
}

void BoardModel::setHard(const std::vector<HardRecord>& hard, const std::vector<std::int64_t>& pinned) {
    if (hard == hard_ && pinned == pinned_ && !specimens_.empty()) {
        return;
    }
    hard_ = hard;
    pinned_ = pinned;
    if (hard.empty() && pinned.empty()) {
        places_.clear();
    }
    if (design_) {
        rebuild();
    }
}

/// They are other faces now: what was shaped with the ones before is nothing any more.
void BoardModel::makeStripFonts() {
    specimens_.clear();
    stripTexts_.clear();
    stripFonts_.clear();
    for (const BoardSetting& setting : settings_) {
        auto& of = stripFonts_.emplace_back();
        for (const ItemDesign::Strip& strip : design_->strips()) {
            of.push_back(std::make_unique<render::FontSet>(*strip.entry, setting.textScale));
        }
    }
}

/// Of the first records: the entries that say most, those that say least, and the first ones.
std::vector<Specimen> BoardModel::someEntries() {
    struct Entry {
        std::int64_t record;
        int entry;
        std::size_t length;
    };
    std::vector<Entry> all;
    entries_.clear();
    const PartSpec* strip = stripOf(document_, which_);
    const auto field = strip == nullptr ? std::nullopt : table().find(strip->binding);
    std::string text;
    for (std::int64_t record = 0; field && record < std::min(table().size(), kLookedAtForEntries); ++record) {
        if (!table().has(record, *field)) {
            continue;
        }
        EntryList& list = entries_[record];
        list.read(table().text(record, *field));
        for (std::size_t entry = 0; entry < list.size(); ++entry) {
            const bool says = list.text(entry, text);
            all.push_back({record, static_cast<int>(entry), says ? text.size() : 0});
        }
    }
    std::vector<Specimen> some;
    const auto take = [&](const Entry& one) {
        const bool isNew = std::ranges::none_of(some, [&](const Specimen& other) {
            return other.record == one.record && other.entry == one.entry;
        });
        if (isNew) {
            some.emplace_back().record = one.record;
            some.back().entry = one.entry;
        }
    };
    const std::size_t few = std::min(all.size(), kOfEach);
    const auto takeFrom = [&](std::size_t first) {
        for (std::size_t i = first; i < first + few; ++i) {
            take(all[i]);
        }
    };
    takeFrom(0);
    std::ranges::stable_sort(all, {}, &Entry::length);
    takeFrom(0);
    takeFrom(all.size() - few);
    return some;
}

void BoardModel::paintWithin(QPainter& painter, const Specimen& specimen,
                             const render::ItemView::PaintNeeds& needs) const {
    for (std::size_t i = 0; i < specimen.strips.size(); ++i) {
        if (specimen.strips[i]) {
            const PartBox& box = specimen.view->boxes()[static_cast<std::size_t>(design_->strips()[i].part)];
            const QPointF at(box.x.toPx(), box.y.toPx());
            painter.translate(at);
            specimen.strips[i]->paint(painter, needs);
            painter.translate(-at);
        }
    }
}

void BoardModel::rebuild() {
    specimens_.clear();
    std::vector<Specimen> records;
    for (const HardRecord& hard : hard_) {
        Specimen specimen;
        specimen.record = hard.record;
        specimen.why = hard.why;
        specimen.measure = hard.measure;
        records.push_back(std::move(specimen));
    }
    for (const std::int64_t pinned : pinned_) {
        const auto same = std::ranges::find(records, pinned, &Specimen::record);
        if (same == records.end()) {
            records.emplace_back().record = pinned;
            records.back().isPinned = true;
        } else {
            same->isPinned = true;
        }
    }
    if (sections_) {
        records.clear();
        for (std::int64_t section = 0; section < sections_->size(); ++section) {
            records.emplace_back().record = section;
        }
    } else if (isOfEntries(which_)) {
        records = someEntries();
    } else if (!isOfRecords(which_)) {
        records.clear();
        records.emplace_back(); // one of it stands in a collection, and reads no record
    }
    for (std::size_t setting = 0; setting < settings_.size(); ++setting) {
        for (const Specimen& record : records) {
            if (record.record >= table().size()) {
                continue;
            }
            Specimen& made = specimens_.emplace_back();
            made.record = record.record;
            made.entry = record.entry;
            made.why = record.why;
            made.measure = record.measure;
            made.isPinned = record.isPinned;
            made.setting = setting;
            made.view = std::make_unique<render::ItemView>();
            made.view->build(*design_);
            fill(made);
        }
    }
    standInColumns();
    keepPlaces();
}

namespace {

bool isShorter(const Specimen& a, const Specimen& b) {
    return a.setting != b.setting ? a.setting < b.setting : a.view->height() < b.view->height();
}

} // namespace

/// Specimens that stood before stand in the order they had; a new one comes before the first that is taller.
void BoardModel::keepPlaces() {
    std::vector<Specimen> standing;
    std::vector<Specimen> came;
    for (Specimen& specimen : specimens_) {
        const bool stood = std::ranges::find(places_, specimen.record) != places_.end();
        (stood ? standing : came).push_back(std::move(specimen));
    }
    const auto placeOf = [this](const Specimen& specimen) {
        return std::ranges::find(places_, specimen.record) - places_.begin();
    };
    std::ranges::stable_sort(standing, [&](const Specimen& a, const Specimen& b) {
        return a.setting != b.setting ? a.setting < b.setting : placeOf(a) < placeOf(b);
    });
    std::ranges::stable_sort(came, isShorter);
    for (Specimen& specimen : came) {
        const auto taller = std::ranges::find_if(standing, [&specimen](const Specimen& other) {
            return other.setting > specimen.setting ||
                   (other.setting == specimen.setting && other.view->height() > specimen.view->height());
        });
        standing.insert(taller, std::move(specimen));
    }
    specimens_ = std::move(standing);
    // Those that are away for the moment keep their places, too: while all are looked at anew they come one
    // by one.
    auto next = places_.end();
    for (std::size_t i = specimens_.size(); i > 0; --i) {
        const Specimen& specimen = specimens_[i - 1];
        if (specimen.setting == 0) {
            const auto place = std::ranges::find(places_, specimen.record);
            next = place != places_.end() ? place : places_.insert(next, specimen.record);
        }
    }
}

void BoardModel::sortByHeight() {
    places_.clear(); // without a place of its own each stands by its height
    keepPlaces();
}

bool BoardModel::isSorted() const {
    return std::ranges::is_sorted(specimens_, isShorter);
}

void BoardModel::fill(Specimen& specimen) {
    render::SteadyWatch watch;
    CostMeter meter(watch);
    const BoardSetting& setting = settings_[specimen.setting];
    const Length width = Length::fromPx(setting.width);
    specimen.view->fill(context(specimen), {*fonts_[specimen.setting], texts_, pictures_.get()},
                        table_ ? table_->room(specimen.setting, width) : ItemRoom{width}, meter);
    specimen.faults = layoutFaults(*design_, specimen.view->boxes());
    specimen.strips.clear();
    for (std::size_t i = 0; i < design_->strips().size(); ++i) {
        const ItemDesign::Strip& strip = design_->strips()[i];
        const auto part = static_cast<std::size_t>(strip.part);
        const auto arrangement = document_.strips.find(design_->parts()[part].pointer);
        const PartBox& box = specimen.view->boxes()[part];
        auto& made = specimen.strips.emplace_back();
        if (box.shown && arrangement != document_.strips.end() && specimen.record >= 0) {
            made = std::make_unique<render::StillStrip>(
                render::StillStrip::Of{*strip.entry, *stripFonts_[specimen.setting][i], arrangement->second},
                table().text(specimen.record, strip.field), context(specimen), stripTexts_, pictures_.get(),
                box);
        }
    }
}

void BoardModel::refill() {
    for (Specimen& specimen : specimens_) {
        fill(specimen);
    }
    standInColumns();
}

/// Those that were laid out before another widened a column are laid out again.
void BoardModel::standInColumns() {
    for (std::size_t i = 0; table_ && i < specimens_.size(); ++i) {
        fill(specimens_[i]);
    }
}

std::vector<int> BoardModel::partsOf(const std::string& pointer) const {
    std::vector<int> found;
    for (std::size_t i = 0; design_ && i < design_->parts().size(); ++i) {
        if (design_->parts()[i].pointer == pointer) {
            found.push_back(static_cast<int>(i));
        }
    }
    return found;
}

int BoardModel::shownOn(const std::string& pointer) const {
    const std::vector<int> parts = partsOf(pointer);
    return static_cast<int>(std::ranges::count_if(specimens_, [&](const Specimen& specimen) {
        return std::ranges::any_of(
            parts, [&](int part) { return specimen.view->boxes()[static_cast<std::size_t>(part)].shown; });
    }));
}

std::vector<std::string> BoardModel::outcomes(const std::string& pointer, std::size_t most) const {
    std::vector<std::string> found;
    const std::vector<int> parts = partsOf(pointer);
    for (const Specimen& specimen : specimens_) {
        for (const int part : parts) {
            const int binding = design_->parts()[static_cast<std::size_t>(part)].binding;
            if (binding < 0 || found.size() >= most) {
                continue;
            }
            const ItemContent& content = specimen.view->content();
            const std::string& value = content.values[static_cast<std::size_t>(binding)];
            if (content.present[static_cast<std::size_t>(binding)] != 0 &&
                std::ranges::find(found, value) == found.end()) {
                found.push_back(value);
            }
        }
    }
    return found;
}

std::int64_t BoardModel::shapedEver() const {
    return texts_.shapedEver();
}

} // namespace scorrere::workbench
