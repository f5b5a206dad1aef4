// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/design_edit.h"

#include "engine/document/collection_document.h"
#include "engine/record/reading.h"
#include "service/moths.h"
#include "workbench/model/starting_points.h"

#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace scorrere::workbench {
namespace {

using Json = nlohmann::ordered_json;

DesignDraft draft() {
    return DesignDraft(R"({"items": {"record": {"column": [
        {"row": [{"text": "a"}, {"text": "b"}], "gap": 4}, {"text": "c"}, {"column": [{"text": "d"}]}]}}})");
}

/// The texts of a draft in order.
std::vector<std::string> texts(const Json& json) {
    std::vector<std::string> all;
    for (const auto& [name, value] : json.items()) {
        if (name == "text" && value.is_string()) {
            all.push_back(value.get<std::string>());
        } else if (value.is_structured()) {
            for (std::string& text : texts(value)) {
                all.push_back(std::move(text));
            }
        }
    }
    return all;
}

TEST(DesignDraft, PutsInTakesOutAndMovesParts) {
    DesignDraft d = draft();
    EXPECT_EQ(d.insertBeside("/items/record/column/1", true, {{"text", "new"}}), "/items/record/column/2");
    EXPECT_EQ(texts(d.json()), (std::vector<std::string>{"a", "b", "c", "new", "d"}));
    EXPECT_EQ(d.remove("/items/record/column/0/row/1"), "/items/record/column/0/row/0");
    EXPECT_EQ(d.move("/items/record/column/1", "/items/record/column/0", 0), "/items/record/column/0/row/0");
    EXPECT_EQ(texts(d.json()), (std::vector<std::string>{"c", "a", "new", "d"}));
    EXPECT_EQ(d.step("/items/record/column/0/row/0", 1), "/items/record/column/0/row/1");
    EXPECT_EQ(d.step("/items/record/column/0/row/1", 1), "") << "there is no further";
    EXPECT_EQ(d.duplicate("/items/record/column/1"), "/items/record/column/2");
}

TEST(DesignDraft, ABoxThatStandsBehindWhatIsMovedComesForward) {
    DesignDraft d = draft();
    const std::string to = d.move("/items/record/column/0", "/items/record/column/2", 0);
    EXPECT_EQ(to, "/items/record/column/1/column/0");
    EXPECT_EQ(partWordOf(*d.part(to)), "row");
    EXPECT_EQ(d.move("/items/record/column/1", "/items/record/column/1/column/0", 0), "")
        << "not into itself";
}

TEST(DesignDraft, WrapsAndUnwraps) {
    DesignDraft d = draft();
    const std::string before = d.text();
    EXPECT_EQ(d.wrap("/items/record/column/1", PartType::Row), "/items/record/column/1/row/0");
    EXPECT_EQ(d.unwrap("/items/record/column/1"), "/items/record/column/1");
    EXPECT_EQ(d.text(), before);
    DesignDraft root(R"({"items": {"record": {"text": "alone"}}})");
    EXPECT_EQ(root.insertBeside("/items/record", true, {{"line", 1}}), "/items/record/column/1");
    EXPECT_EQ(root.member("/items/record/column/0", "text"), Json("alone"));
}

TEST(DesignDraft, WhatIsNotThereChangesNothing) {
    DesignDraft d = draft();
    const std::string before = d.text();
    EXPECT_EQ(d.part("/items/other"), nullptr);
    EXPECT_EQ(d.part("no pointer"), nullptr);
    EXPECT_FALSE(d.set("/items/other", "x", 1));
    EXPECT_EQ(d.remove("/items/record"), "");
    EXPECT_EQ(d.move("/items/record/column/9", "/items/record", 0), "");
    EXPECT_EQ(d.text(), before);
    EXPECT_TRUE(DesignDraft("not JSON").json().empty());
}

RC_GTEST_PROP(DesignDraft, MovingAnyPartAnywhereLosesAndDoublesNothing, ()) {
    DesignDraft d = draft();
    std::vector<std::string> before = texts(d.json());
    std::ranges::sort(before);
    const std::vector<std::string> boxes{"/items/record", "/items/record/column/0", "/items/record/column/2",
                                         "/items/record/column/1", "/items/record/column/0/row/0"};
    for (int i = *rc::gen::inRange(1, 12); i > 0; --i) {
        const std::string from = *rc::gen::elementOf(
            std::vector<std::string>{"/items/record/column/0", "/items/record/column/1",
                                     "/items/record/column/2", "/items/record/column/0/row/0",
                                     "/items/record/column/0/row/1", "/items/record/column/2/column/0"});
        const Json* moved = d.part(from);
        const Json held = moved == nullptr ? Json() : *moved;
        const std::string to =
            d.move(from, *rc::gen::elementOf(boxes), static_cast<std::size_t>(*rc::gen::inRange(0, 4)));
        if (!to.empty()) {
            RC_ASSERT(d.part(to) != nullptr);
            RC_ASSERT(*d.part(to) == held);
        }
        std::vector<std::string> now = texts(d.json());
        std::ranges::sort(now);
        RC_ASSERT(now == before);
    }
}

TEST(StartingPoints, BindThemselvesByTypeAndFill) {
    const auto records = service::makeSightings(500, 1);
    const FieldRoles roles = fieldRoles(*records);
    EXPECT_EQ(roles.title, "species");
    EXPECT_EQ(roles.detail, "site");
    EXPECT_EQ(roles.body, "note");
    EXPECT_EQ(roles.picture, "picture");
    EXPECT_EQ(roles.status, "status");
    EXPECT_EQ(roles.number, "temperature_c");
    EXPECT_EQ(roles.step, "rarity");
    EXPECT_EQ(roles.time, "seen");
    EXPECT_EQ(roles.list, "traits");
}

TEST(StartingPoints, EveryOneIsADesignForWhateverRecordsThereAre) {
    for (const std::string text :
         {"one\ntwo", R"([{"a": 1}, {"a": 2}])", R"([{"first name": "x"}])", R"([{"t": [1, 2]}])"}) {
        const auto reading = readRecordsText(text, "x", {});
        ASSERT_TRUE(reading);
        for (const StartingPoint& point : startingPoints(reading->records)) {
            const auto document = CollectionDocument::parse(
                Json{{"scorrere", 1}, {"source", {{"list", ""}}}, {"items", {{"record", point.design}}}}
                    .dump(),
                "");
            ASSERT_TRUE(document) << point.name << document.error().text();
            const auto design = ItemDesign::compile(document->item, document->scope(reading->records));
            EXPECT_TRUE(design) << point.name << (design ? "" : design.error().text());
        }
    }
}

} // namespace
} // namespace scorrere::workbench
