// SPDX-License-Identifier: GPL-3.0-or-later
// Edits over what comes in pages: beside a plain list, whatever is edited, answered, streamed and taken back in between.
#include "engine/page/page_edits.h"

#include "testing/engine/fake_pages.h"

#include <gmock/gmock.h>
#include <rapidcheck/gtest.h>

namespace scorrere {
namespace {

using testing::FakeService;
using ::testing::HasSubstr;
using testing::PagerRig;
using EditKind = RecordEdit::Kind;

RecordEdits editsOf(const std::vector<RecordEdit>& edits) {
    RecordEdits all;
    for (const RecordEdit& edit : edits) {
        all.push_back(std::make_shared<const RecordEdit>(edit));
    }
    return all;
}

PageEdits made(const std::vector<RecordEdit>& edits) {
    return {editsOf(edits), {"id"}, FakeService::fields()};
}

std::int64_t numberOf(const PageRecord& record) {
    return record.table->has(record.row, {1}) ? record.table->integer(record.row, {1}) : -1;
}

struct EditedPages {
    FakeService service{PageStyle::Number, 0};
    PagerRig rig;
    explicit EditedPages(int count, PageStyle style = PageStyle::Number)
        : service(serviceOf(style, count)), rig(rulesOf(style), service) {
        rig.rest();
    }
    static FakeService serviceOf(PageStyle style, int count) {
        FakeService made(style, 0);
        made.hasTables = true;
        for (int i = 0; i < count; ++i) {
            made.insert(made.list.size());
        }
        return made;
    }
    static PageRules rulesOf(PageStyle style) {
        PageRules rules;
        rules.style = style;
        rules.size = 5;
        rules.keepPages = 100;
        return rules;
    }
    void edit(const std::vector<RecordEdit>& edits) {
        rig.pager.setEdits(std::make_shared<const PageEdits>(made(edits)));
        rig.drain();
    }
    const PageRecord* at(const std::string& key) { return rig.pager.strip().find(key); }
};

TEST(PageEdits, AValueIsLaidOverAndWhatTheServiceHasStaysKnown) {
    EditedPages pages(8);
    pages.edit({{EditKind::Set, "k3", "n", "40", {}}});
    EXPECT_EQ(numberOf(*pages.at("k3")), 40);
    EXPECT_EQ(numberOf(*pages.at("k3")->served), 1);
    EXPECT_EQ(pages.at("k2")->served, nullptr);
    EXPECT_EQ(numberOf(*pages.rig.pager.find("k3")), 1) << "what a patch of the service is for";
    pages.service.list[3].version = 2; // the service changes it, too
    pages.rig.pager.streamChanged(pages.service.given(pages.service.list[3]));
    EXPECT_EQ(numberOf(*pages.at("k3")), 40);
    pages.edit({});
    EXPECT_EQ(numberOf(*pages.at("k3")), 2);
    EXPECT_EQ(pages.at("k3")->served, nullptr);
    EXPECT_EQ(pages.rig.wrong, "");
}

TEST(PageEdits, WhatCannotBeSaysWhy) {
    const PageEdits edits = made({{EditKind::Set, "k1", "n", "\"many\"", {}},
                                  {EditKind::Set, "k1", "colour", "1", {}},
                                  {EditKind::Move, "k1", {}, {}, "k0"},
                                  {EditKind::Insert, {}, {}, R"({"n": 4})", {}},
                                  {EditKind::Remove, "k2", {}, {}, {}},
                                  {EditKind::Set, "k2", "n", "3", {}},
                                  {EditKind::Set, "k4", "n", "{", {}},
                                  {EditKind::Set, "k5", "n", "5", {}},
                                  {EditKind::Set, "k6", "n", "null", {}}});
    EXPECT_THAT(edits.refusals(),
                ::testing::ElementsAre(HasSubstr("a whole number"), HasSubstr("no field \"colour\""),
                                       HasSubstr("its service's"), HasSubstr("no key"), "",
                                       HasSubstr("removed"), HasSubstr("no JSON"), "", ""));
    EXPECT_FALSE(edits.touches("k1"));
    EXPECT_TRUE(edits.touches("k5"));
}

TEST(PageEdits, WhatIsRemovedComesBackWhereItWas) {
    EditedPages pages(14);
    const auto before = pages.rig.keys();
    const RecordEdit two{EditKind::Remove, "k2", {}, {}, {}};
    const RecordEdit three{EditKind::Remove, "k3", {}, {}, {}};
    const RecordEdit four{EditKind::Remove, "k4", {}, {}, {}};
    pages.edit({two, three, four});
    EXPECT_THAT(pages.rig.keys(), ::testing::Not(::testing::Contains("k3")));
    pages.edit({two, four});
    EXPECT_EQ(pages.rig.keys()[2], "k3");
    pages.edit({four});
    EXPECT_EQ(pages.rig.keys()[2], "k2");
    pages.edit({});
    EXPECT_EQ(pages.rig.keys(), before);
    EXPECT_EQ(pages.rig.wrong, "");
}

TEST(PageEdits, WhatIsInsertedStandsOnTopUntilTheServiceHasIt) {
    EditedPages pages(8);
    const RecordEdit insert{EditKind::Insert, {}, {}, R"({"id": "new", "n": 7})", {}};
    pages.edit({insert, {EditKind::Set, "new", "n", "8", {}}});
    EXPECT_EQ(pages.rig.keys().front(), "new");
    EXPECT_EQ(numberOf(*pages.at("new")), 8);
    EXPECT_TRUE(pages.at("new")->isLocal);
    pages.rig.pager.refresh(pages.rig.now, RefreshStand::AtTop);
    pages.rig.rest();
    EXPECT_EQ(pages.rig.keys().front(), "new") << "a refresh does not take it away";
    pages.edit({});
    EXPECT_EQ(pages.rig.keys().front(), "k0");
    EXPECT_EQ(pages.rig.wrong, "");
}

TEST(PageEdits, WhatTheServiceAgreedToStaysWithoutItsEdit) {
    EditedPages pages(8);
    const RecordEdit set{EditKind::Set, "k3", "n", "40", {}};
    const RecordEdit remove{EditKind::Remove, "k1", {}, {}, {}};
    const RecordEdit insert{EditKind::Insert, {}, {}, R"({"id": "new", "n": 7})", {}};
    pages.edit({set, remove, insert});
    for (const RecordEdit& edit : {set, remove, insert}) {
        pages.rig.pager.agree(made({edit}), edit);
    }
    pages.edit({});
    EXPECT_EQ(numberOf(*pages.at("k3")), 40);
    EXPECT_EQ(pages.at("k1"), nullptr);
    ASSERT_NE(pages.at("new"), nullptr);
    EXPECT_FALSE(pages.at("new")->isLocal);
    EXPECT_EQ(pages.rig.wrong, "");
}

std::vector<RecordEdit> anyEdits(const FakeService& service) {
    return *rc::gen::container<std::vector<RecordEdit>>(
        *rc::gen::inRange<std::size_t>(0, 9), rc::gen::exec([&service] {
            const auto key = fmt::format("k{}", *rc::gen::inRange(0, std::max(service.made, 1)));
            const auto number = fmt::format("{}", *rc::gen::inRange(100, 105));
            switch (*rc::gen::inRange(0, 5)) {
            case 0:
            case 1:
                return RecordEdit{EditKind::Set, key, "n", number, {}};
            case 2:
                return RecordEdit{
                    EditKind::Insert,
                    {},
                    {},
                    fmt::format(R"({{"id": "new{}", "n": {}}})", *rc::gen::inRange(0, 3), number),
                    {}};
            default:
                return RecordEdit{EditKind::Remove, key, {}, {}, {}};
            }
        }));
}

/// What shows is what the service has, edit by edit.
void expectAsEdited(EditedPages& pages, const PageEdits& edits) {
    for (std::int64_t i = 0; i < pages.rig.pager.strip().places(); ++i) {
        const PageRecord* shown = pages.rig.pager.strip().recordAt(i);
        if (shown == nullptr || shown->isLocal) {
            continue;
        }
        std::optional<std::int64_t> set;
        for (std::size_t e = 0; e < edits.edits().size(); ++e) {
            const RecordEdit& edit = *edits.edits()[e];
            if (edit.key == shown->key && edits.refusals()[e].empty()) {
                RC_ASSERT(edit.kind != EditKind::Remove);
                set = std::stoll(edit.value);
            }
        }
        RC_ASSERT((shown->served != nullptr) == set.has_value());
        RC_ASSERT(numberOf(*shown) == set.value_or(numberOf(*shown)));
    }
}

RC_GTEST_PROP(PageEdits, WhateverComesBetweenTheyAreOverWhatTheServiceHas, ()) {
    const auto style = *rc::gen::element(PageStyle::Number, PageStyle::Cursor);
    EditedPages pages(*rc::gen::inRange(0, 40), style);
    PageEdits now;
    for (int step = *rc::gen::inRange(1, 20); step > 0; --step) {
        auto& list = pages.service.list;
        const auto any = list.empty() ? 0 : *rc::gen::inRange<std::size_t>(0, list.size());
        switch (*rc::gen::inRange(0, 6)) {
        case 0:
            now = made(anyEdits(pages.service));
            pages.edit([&] {
                std::vector<RecordEdit> plain;
                for (const auto& edit : now.edits()) {
                    plain.push_back(*edit);
                }
                return plain;
            }());
            break;
        case 1:
            if (!list.empty()) {
                ++list[any].version;
                pages.rig.pager.streamChanged(pages.service.given(list[any]));
            }
            break;
        case 2:
            pages.service.insert(0);
            pages.rig.pager.streamAdded({pages.service.given(list.front())});
            break;
        case 3:
            if (!list.empty()) {
                pages.rig.pager.streamRemoved(list[any].key);
                list.erase(list.begin() + static_cast<std::ptrdiff_t>(any));
            }
            break;
        case 4:
            pages.rig.pager.showWaiting();
            break;
        default:
            pages.rig.top = *rc::gen::inRange<std::int64_t>(0, 40);
            pages.rig.pager.refresh(pages.rig.now,
                                    *rc::gen::element(RefreshStand::AtTop, RefreshStand::WithReader));
            pages.rig.now += 5000;
            pages.rig.rest();
        }
        pages.rig.drain();
        RC_ASSERT(pages.rig.wrong == std::string());
        pages.rig.pager.checkInvariants();
        expectAsEdited(pages, now);
    }
    // All of it read anew: in the service's order, what is inserted above.
    pages.rig.pager.refresh(pages.rig.now, RefreshStand::AtTop);
    pages.rig.now += 5000;
    pages.rig.readThrough();
    std::vector<std::string> expected;
    for (const PageRecord& inserted : now.inserted()) {
        expected.push_back(inserted.key);
    }
    for (const auto& entry : pages.service.list) {
        if (now.over(pages.service.given(entry))) {
            expected.push_back(entry.key);
        }
    }
    RC_ASSERT(pages.rig.keys() == expected);
}

RC_GTEST_PROP(PageEdits, TakenBackInAnyOrderAllIsAsItWas, ()) {
    EditedPages pages(*rc::gen::inRange(0, 30));
    const auto before = pages.rig.keys();
    std::vector<RecordEdit> edits = anyEdits(pages.service);
    pages.edit(edits);
    while (!edits.empty()) {
        edits.erase(edits.begin() + *rc::gen::inRange<std::ptrdiff_t>(0, std::ssize(edits)));
        pages.edit(edits);
        RC_ASSERT(pages.rig.wrong == std::string());
    }
    RC_ASSERT(pages.rig.keys() == before);
    for (std::int64_t i = 0; i < pages.rig.pager.strip().places(); ++i) {
        const PageRecord* shown = pages.rig.pager.strip().recordAt(i);
        RC_ASSERT((shown == nullptr || shown->served == nullptr));
    }
}

} // namespace
} // namespace scorrere
