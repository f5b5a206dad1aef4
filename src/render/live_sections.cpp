// SPDX-License-Identifier: Apache-2.0
// The part of LiveCollection that has to do with sections: which records begin one, what their headers say, and
// which are folded.
#include "render/job.h"
#include "render/live_collection.h"

#include <algorithm>
#include <set>

namespace scorrere::render {

namespace {

/// So many records are looked at between frames; a worker looks at more.
constexpr std::int64_t kStartsAtOnce = 4096;

} // namespace

/// Nothing where the record is not here.
std::optional<std::string> LiveCollection::headingAt(std::int64_t place) const {
    const Slot slot{Role::Record, place};
    if (records_.isPlaceholder(slot)) {
        return std::nullopt;
    }
    if (const std::string* carried = hands_->headingOver(place)) {
        return *carried;
    }
    std::string text;
    designs_.sections()->textOf(records_.contextOf(slot), text);
    return text;
}

/// What its header says, by the first of its records that is here. Where none of them is looked at any more, by one
/// that shows.
std::optional<std::string> LiveCollection::headingOf(const Sections::Stand& section) const {
    if (designs_.sections() == nullptr) {
        return std::nullopt;
    }
    if (auto text = headingAt(section.first)) {
        return text;
    }
    for (const ViewId id : run_->recycler().alive()) {
        const Slot slot = run_->arrangement().slotAt(run_->recycler().view(id).position);
        if (slot.role == Role::Record && slot.section == section.section) {
            if (auto text = headingAt(slot.place)) {
                return text;
            }
        }
    }
    return std::nullopt;
}

QString LiveCollection::sectionName(std::int64_t section) const {
    const Sections* all = sections();
    if (all == nullptr || section < 0 || section >= all->count() || !all->at(section).isHeaded) {
        return {};
    }
    return QString::fromStdString(headingOf(all->at(section)).value_or("\u2026"));
}

/// A worker is to tell of all.
bool LiveCollection::areSectionsUntold() const {
    return sectioned_ != nullptr && !areSectionsTold_ && paged() == nullptr && !leaf().isOne();
}

/// Records came, went or are others now: whether they, and the one behind them, begin a section. One that is not
/// here, or stands behind one that is not, is thought to go on with the section before it unless that has another
/// heading.
void LiveCollection::takeStarts(std::int64_t place, std::int64_t count) {
    if (sectioned_ == nullptr || designs_.sections() == nullptr || count < 0) {
        return;
    }
    const std::int64_t most = paged() != nullptr ? count : kStartsAtOnce; // of pages no worker tells
    areSectionsTold_ = areSectionsTold_ && count <= most;
    const std::int64_t until = std::min(place + std::min(count, most) + 1, sectioned_->recordCount());
    run_->regroup([&] {
        std::optional<std::string> before;
        for (; place < until; ++place) {
            const Sections::Stand stand = sectioned_->sections()->ofPlace(place);
            auto text = headingAt(place);
            if (place > 0 && !before) {
                before = headingAt(place - 1);
                before = before ? before : headingOf(sectioned_->sections()->ofPlace(place - 1));
            }
            const std::uint8_t starts = place == 0       ? 1
                                        : text && before ? *text != *before
                                                         : stand.first == place && stand.isHeaded;
            sectioned_->setStarts(place, {&starts, 1});
            before = std::move(text);
        }
    });
    jumpNamesFor_ = -1;
    headings_.reset(); // there may be others by now
}

/// Which sections beside two places are folded, but for what the record at the first one says: that is about to go elsewhere.
LiveCollection::Folds LiveCollection::foldsBeside(std::int64_t from, std::int64_t to) const {
    Folds folds;
    if (sectioned_ == nullptr || designs_.sections() == nullptr) {
        return folds;
    }
    for (const std::int64_t place : {from - 1, from + 1, to - 1, to, to + 1}) {
        const bool isThere = place >= 0 && place < sectioned_->recordCount() && place != from;
        const auto heading = isThere ? headingAt(place) : std::nullopt;
        if (heading && std::ranges::find(folds, *heading, &Folds::value_type::first) == folds.end()) {
            folds.emplace_back(*heading, sectioned_->sections()->ofPlace(place).isFolded);
        }
    }
    return folds;
}

/// A record went from one place to another: sections are as folded as they were, wherever they begin now.
void LiveCollection::keepFolds(const Folds& folds, std::int64_t from, std::int64_t to) {
    for (const std::int64_t place : {from - 1, from, from + 1, to - 1, to, to + 1}) {
        if (folds.empty() || place < 0 || place >= sectioned_->recordCount()) {
            continue;
        }
        const Sections::Stand stand = sectioned_->sections()->ofPlace(place);
        const auto heading = stand.isHeaded ? headingAt(place) : std::nullopt;
        const auto known =
            heading ? std::ranges::find(folds, *heading, &Folds::value_type::first) : folds.end();
        if (known != folds.end() && known->second != stand.isFolded) {
            run_->regroup([&] { sectioned_->setFolded(stand.section, known->second); });
        }
    }
}

/// Everything may stand under another heading. Of many records only those at the start are looked at: a worker
/// tells of all.
void LiveCollection::takeSectionsAnew() {
    if (sectioned_ == nullptr) {
        return;
    }
    const std::int64_t count = sectioned_->recordCount();
    std::vector<std::int32_t> counts;
    std::set<std::string> headings;
    std::optional<std::string> before;
    headings_.reset();
    if (paged() != nullptr || designs_.sections() == nullptr || records_.isPlaceholder({Role::Record, 0})) {
        run_->regroup([&] {
            disposeElsewhere(sectioned_->takeSections(
                count > 0 ? std::vector{static_cast<std::int32_t>(count)} : std::vector<std::int32_t>(),
                false));
        });
        if (paged() != nullptr) { // of pages that are not here nothing is known
            for (const auto& [page, loaded] : paged()->pager().strip().loaded()) {
                const std::int64_t first = paged()->pager().strip().placeOf(page) - leaf().first;
                const std::int64_t from = std::max<std::int64_t>(first, 0);
                takeStarts(from, std::min(first + std::ssize(loaded), count) - from);
            }
        }
        return;
    }
    const bool isWhole = count <= kStartsAtOnce || leaf().isOne();
    const std::int64_t most = isWhole ? count : kStartsAtOnce;
    for (std::int64_t place = 0; place < most; ++place) {
        if (place > 0 &&
            designs_.sections()->isAlike(records(), records_.recordAt(place - 1), records_.recordAt(place))) {
            ++counts.back();
            continue;
        }
        auto text = headingAt(place);
        if (!before || text != before) {
            counts.push_back(0);
            headings.insert(text.value_or(std::string()));
        }
        ++counts.back();
        before = std::move(text);
    }
    if (isWhole) {
        headings_ = std::ssize(headings);
    }
    if (count > most && !counts.empty()) {
        counts.back() += static_cast<std::int32_t>(count - most);
    }
    areSectionsTold_ = isWhole;
    takeSections(counts);
}

QString LiveCollection::sectionShortName(std::int64_t section) const {
    const std::optional<FillContext> first = contextAt(sections()->at(section).first);
    if (std::string text;
        first && designs_.jumpName() != nullptr && designs_.jumpName()->format(*first, text)) {
        return QString::fromStdString(text);
    }
    return sectionName(section);
}

std::optional<JumpList> LiveCollection::jumpList() {
    if (sectioned_ == nullptr || !document_.arrangement.sections->jumps || sections()->count() < 2) {
        return std::nullopt;
    }
    const double clear = document_.arrangement.sections->clear.toPx();
    const std::int64_t room = JumpList::roomIn(axis(), clear);
    if (room < 2) {
        return std::nullopt;
    }
    if (jumpNamesFor_ != room) {
        jumpNamesFor_ = room;
        jumpNames_.clear();
        jumpPicture_ = {};
        for (const std::int64_t section : namedSections(sections()->count(), room)) {
            jumpNames_.push_back({section, sectionShortName(section)});
        }
    }
    return JumpList(jumpNames_, sections()->count(), axis(), clear);
}

bool LiveCollection::pressJumpList(QPointF at) {
    const auto jumps = jumpList();
    const auto section = jumps ? jumps->sectionAt(at, false) : std::nullopt;
    isJumping_ = section.has_value();
    if (section) {
        showSection(*section);
    }
    return isJumping_;
}

bool LiveCollection::dragJumpList(QPointF at) {
    const auto jumps = isJumping_ ? jumpList() : std::nullopt;
    const auto section = jumps ? jumps->sectionAt(at, true) : std::nullopt;
    if (section) {
        showSection(*section);
    }
    return isJumping_;
}

void LiveCollection::takeSections(const std::vector<std::int32_t>& counts) {
    run_->regroup([&] { disposeElsewhere(sectioned_->takeSections(counts, !counts.empty())); });
    jumpNamesFor_ = -1;
    Q_EMIT sectionsChanged();
}

FillContext LiveCollection::contextOf(const Slot& slot) const {
    if (slot.role != Role::SectionHeader && slot.role != Role::SectionFooter) {
        FillContext context = records_.contextOf(slot);
        if (hands_ != nullptr && designs_.readState().any()) {
            context.state = hands_->stateOf(slot);
        }
        return context;
    }
    const Sections::Stand stand = sections()->at(slot.section);
    sectionSays_ = std::make_unique<const RecordTable>(
        sectionRecord(headingOf(stand).value_or("\u2026"), stand.records));
    return {*sectionSays_, 0, &document_.parameters, records_.nowMs(), nullptr, -1, 0};
}

void LiveCollection::setFolded(std::int64_t section, bool isFolded) {
    if (sectioned_ == nullptr || section < 0 || section >= sectioned_->sections()->count()) {
        return;
    }
    run_->regroup([&] { sectioned_->setFolded(section, isFolded); });
    run_->animate(isFolded ? MotionKind::Remove : MotionKind::Insert);
    if (!isFolded) {
        estimateAll();
    }
    Q_EMIT sectionsChanged();
    Q_EMIT frameWanted();
}

void LiveCollection::setAllFolded(bool areFolded) {
    if (sectioned_ == nullptr) {
        return;
    }
    run_->regroup([&] { disposeElsewhere(sectioned_->setAllFolded(areFolded)); });
    run_->animate(areFolded ? MotionKind::Remove : MotionKind::Insert);
    if (!areFolded) {
        takeSpansAnew(false);
        estimateAll();
    }
    Q_EMIT sectionsChanged();
    Q_EMIT frameWanted();
}

std::int64_t LiveCollection::sectionAtTop() {
    const std::int64_t at = run_->arrangement().indexAt(
        run_->offset() + (sectioned_ != nullptr ? document_.arrangement.sections->clear : Length{}));
    return at < 0 ? -1 : run_->arrangement().slotAt(at).section;
}

void LiveCollection::showSection(std::int64_t section) {
    if (const Sections* all = sections(); all != nullptr && section >= 0 && section < all->count()) {
        run_->jumpTo(run_->arrangement().startOfSection(section));
        Q_EMIT frameWanted();
    }
}

} // namespace scorrere::render
