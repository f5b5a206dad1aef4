// SPDX-License-Identifier: GPL-3.0-or-later
#include "testing/engine/fake_pages.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::FakeService;
using testing::PagerRig;

/// Whether the tail says what is so, going by what was asked and by nothing the pager says of itself.
bool tellsTheTruth(PagerRig& rig) {
    const TailState tail = rig.pager.tail();
    const std::int64_t end = rig.pager.strip().endPage();
    const bool tailIsOpen =
        std::ranges::any_of(rig.open, [end](const auto& o) { return o.second.page == end; });
    switch (tail) {
    case TailState::Empty:
        return rig.places.empty() && rig.pager.endKnown();
    case TailState::Loading:
        return tailIsOpen || rig.pager.stateOfPage(end) == PlaceState::Waiting;
    case TailState::End:
        return !tailIsOpen;
    case TailState::More:
        return !tailIsOpen;
    default:
        return true;
    }
}

/// For a failing sequence: what was asked and what came of it.
void tell(PagerRig& rig) {
    RC_LOG() << "tail " << static_cast<int>(rig.pager.tail()) << "; here:";
    for (const std::string& key : rig.keys()) {
        RC_LOG() << ' ' << key;
    }
    RC_LOG() << "; at the service:";
    for (const auto& entry : rig.service.list) {
        RC_LOG() << ' ' << entry.key;
    }
    for (const RequestRecord& record : rig.pager.log().entries()) {
        RC_LOG() << fmt::format("\n{} page {} generation {}: {} -> {}", record.askedMs, record.page,
                                record.generation, reasonText(record), outcomeText(record));
    }
}

void changeService(FakeService& service) {
    const auto size = static_cast<int>(service.list.size());
    switch (*rc::gen::inRange(0, 4)) {
    case 0:
        service.insert(static_cast<std::size_t>(*rc::gen::inRange(0, size + 1)));
        break;
    case 1:
        if (size > 0) {
            service.list.erase(service.list.begin() + *rc::gen::inRange(0, size));
        }
        break;
    case 2:
        if (size > 0) {
            ++service.list[static_cast<std::size_t>(*rc::gen::inRange(0, size))].version;
        }
        break;
    default:
        if (size > 1) { // one moves: its key stays, its rank is the new place's
            const auto from = static_cast<std::size_t>(*rc::gen::inRange(0, size));
            const FakeService::Entry moved = service.list[from];
            service.list.erase(service.list.begin() + static_cast<std::ptrdiff_t>(from));
            const auto to = static_cast<std::size_t>(*rc::gen::inRange(0, size));
            service.insert(to);
            service.list[to].key = moved.key;
        }
    }
}

void act(PagerRig& rig) {
    const auto anyOpen = [&rig] {
        auto open = rig.open.begin();
        std::advance(open, *rc::gen::inRange<std::size_t>(0, rig.open.size()));
        return open->first;
    };
    switch (*rc::gen::inRange(0, 14)) {
    case 0:
    case 1:
    case 2:
        rig.top += *rc::gen::inRange(-12, 13);
        break;
    case 3:
        rig.top = *rc::gen::inRange(0, 120);
        break;
    case 4:
    case 5:
    case 6:
        if (!rig.open.empty()) {
            rig.deliver(anyOpen());
        }
        break;
    case 7:
        if (!rig.open.empty()) {
            rig.fail(anyOpen(), *rc::gen::element(PageFailure::Kind::Offline, PageFailure::Kind::Passing,
                                                  PageFailure::Kind::Lasting));
        }
        break;
    case 8:
        changeService(rig.service);
        break;
    case 9:
        rig.pager.refresh(rig.now, *rc::gen::element(RefreshStand::AtTop, RefreshStand::WithReader));
        break;
    case 10:
        rig.now += *rc::gen::inRange(1, 5000);
        break;
    case 11:
        rig.pager.retry(rig.now);
        break;
    case 12:
        if (*rc::gen::inRange(0, 3) == 0) {
            rig.pager.requery(rig.now);
        } else {
            rig.pager.stop();
            rig.drain();
            rig.pager.start(rig.now);
        }
        break;
    default:
        if (!rig.service.list.empty()) {
            const auto& entry = rig.service.list[*rc::gen::inRange<std::size_t>(0, rig.service.list.size())];
            *rc::gen::arbitrary<bool>() ? rig.pager.streamAdded({FakeService::record(entry)})
                                        : rig.pager.streamChanged(FakeService::record(entry));
        }
        rig.drain();
        if (*rc::gen::inRange(0, 3) == 0) {
            rig.pager.showWaiting();
        }
    }
    rig.drain();
    rig.look(*rc::gen::element(0.0, 0.0, 40.0, -40.0, 400.0));
}

RC_GTEST_PROP(Pager, HoldsUnderAnyInterleaving, ()) {
    PageRules rules;
    rules.style = *rc::gen::element(PageStyle::Number, PageStyle::Offset, PageStyle::Cursor, PageStyle::Next);
    rules.size = *rc::gen::inRange(1, 12);
    rules.keepPages = *rc::gen::element<std::int64_t>(2, 4, 1000);
    rules.rememberedPlaces = *rc::gen::element<std::int64_t>(0, 20, 100'000);
    rules.atOnce = *rc::gen::inRange(1, 4);
    FakeService service(rules.style, *rc::gen::inRange(0, 100), *rc::gen::arbitrary<bool>());
    PagerRig rig(rules, service);
    for (int step = *rc::gen::inRange(0, 120); step > 0; --step) {
        act(rig);
        rig.pager.checkInvariants();
        RC_ASSERT(rig.wrong == "");
        RC_ASSERT(!rig.twice);
        RC_ASSERT(!rig.afterEnd);
        if (!tellsTheTruth(rig)) {
            tell(rig);
        }
        RC_ASSERT(tellsTheTruth(rig));
        // What shows and what is alive may need more than may be kept; a refresh keeps its first page.
        const std::int64_t alive = (PagerRig::kShows + 6) / rules.size + 2;
        std::int64_t emptyPages = 0;
        for (const auto& [page, records] : rig.pager.strip().loaded()) {
            emptyPages += records.size() < static_cast<std::size_t>(rules.size) ? 1 : 0;
        }
        RC_ASSERT(static_cast<std::int64_t>(rig.pager.strip().loaded().size()) <=
                  std::max(rules.keepPages, alive) + emptyPages + 1);
        RC_ASSERT(std::ssize(rig.pager.strip().remembered()) * rules.size <=
                  rules.rememberedPlaces + alive * rules.size + 1);
    }
    // The service is left alone: everything it has is reached, and the end is known.
    for (const auto& [request, command] : std::map(rig.open)) {
        if (rig.open.contains(request)) { // what came before it may have made it needless
            rig.deliver(request);
        }
    }
    rig.pager.retry(rig.now);
    rig.drain();
    rig.rest();
    rig.pager.refresh(rig.now, RefreshStand::AtTop);
    rig.drain();
    rig.readThrough();
    rig.readThrough();
    RC_ASSERT(rig.wrong == "");
    for (const auto& entry : service.list) {
        if (!rig.seen.contains(entry.key)) {
            RC_LOG() << "lost " << entry.key << "\n";
            tell(rig);
        }
        RC_ASSERT(rig.seen.contains(entry.key));
    }
    RC_ASSERT(rig.pager.tail() ==
              (service.list.empty() && rig.places.empty() ? TailState::Empty : TailState::End));
    RC_ASSERT(!rig.twice);
    RC_ASSERT(!rig.afterEnd);
}

} // namespace
} // namespace scorrere
