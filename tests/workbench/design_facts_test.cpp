// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of a design without a window: what it asks for that no record has, what is wrong with a text as one,
// which records are hardest for it, where an answer's items may be.
#include "workbench/model/design_facts.h"

#include "engine/record/record_builder.h"
#include "workbench/model/answer.h"
#include "workbench/model/hard_search.h"
#include "workbench/model/new_parameter.h"

#include <QSignalSpy>
#include <QTest>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

using ::testing::ElementsAre;
using ::testing::IsEmpty;
using Json = DesignDraft::Json;

std::shared_ptr<const RecordTable> records(int count) {
    RecordBuilder builder;
    for (int i = 0; i < count; ++i) {
        std::string words = "word";
        for (int word = 0; word < i * 7 % 160; ++word) {
            words += " word";
        }
        builder.setText(builder.fieldNamed("word"), words);
        builder.setInteger(builder.fieldNamed("size"), i);
        builder.endRecord();
    }
    return std::make_shared<const RecordTable>(builder.finish());
}

CollectionDocument documentOf(const std::string& items) {
    auto document = CollectionDocument::parse(
        R"({"scorrere": 1, "name": "n", "source": {"list": ""}, "items": )" + items + "}", {});
    EXPECT_TRUE(document) << document.error().text();
    return document ? std::move(*document) : CollectionDocument();
}

TEST(DesignFacts, AFieldThatNoRecordHasIsNamedOnceWhereverItIsAskedFor) {
    const CollectionDocument document = documentOf(
        R"({"record": {"column": [{"text": "{word}", "hide": "@.wrod == \"x\""},
                                  {"text": "a", "hide": "@.size > 3 && @.wrod == \"y\""}]},
            "header": {"text": "b"},
            "kinds": [{"name": "k", "when": "@.kidn == 2", "design": {"text": "c"}}]})");
    EXPECT_THAT(absentFields(document, *records(3)), ElementsAre("kidn", "wrod"));
    EXPECT_THAT(absentFields(document, *records(0)), IsEmpty()) << "nothing is known of fields yet";
    EXPECT_THAT(
        absentFields(documentOf(R"({"record": {"text": "{word}", "hide": "@.size > 1"}})"), *records(3)),
        IsEmpty());
}

TEST(DesignFacts, WhatIsWrongWithATextAsADesignIsPlacedInIt) {
    const CollectionDocument document = documentOf(R"({"record": {"text": "{word}"}})");
    const auto table = records(2);
    EXPECT_FALSE(designProblem(document, table.get(), document.designText()));
    const auto noJson = designProblem(document, table.get(), "{\"items\": {\n\"record\": ");
    ASSERT_TRUE(noJson);
    EXPECT_GE(noJson->place.line, 2);
    DesignDraft draft(document.designText());
    draft.set("/items/record", "text", "{size, number, ::bogus-skeleton-}");
    EXPECT_TRUE(designProblem(document, table.get(), draft.text()));
    // What needs the records to be wrong is no problem while there are none.
    DesignDraft other(document.designText());
    other.set("/items/record", "hide", "@.size > $.parameters.none");
    EXPECT_TRUE(designProblem(document, table.get(), other.text()));
}

TEST(HardSearch, WhatWasFoundStaysUntilALaterSearchHasLookedAtAsMany) {
    HardSearch search;
    QSignalSpy found(&search, &HardSearch::foundMore);
    const auto ask = [&](const std::string& items, int count) {
        HardQuestion question;
        question.document = documentOf(items);
        question.records = records(count);
        search.ask(std::move(question));
    };
    EXPECT_FALSE(search.isWhole());
    ask(R"({"record": {"text": "{word}", "lines": 30}})", 2000);
    ASSERT_TRUE(QTest::qWaitFor([&] { return search.isWhole() && !search.isBusy(); }, 30'000));
    EXPECT_EQ(search.considered(), 2000);
    ASSERT_FALSE(search.found().empty());
    EXPECT_GT(found.count(), 0);
    const auto tallest = std::ranges::find_if(search.found(), [](const HardRecord& hard) {
        return std::ranges::count(hard.why, Extreme::Tallest) > 0;
    });
    ASSERT_NE(tallest, search.found().end());
    // The median is one that was found as such, and is not the tallest.
    EXPECT_NE(search.median(), tallest->record);
    EXPECT_TRUE(std::ranges::any_of(search.found(), [&](const HardRecord& hard) {
        return hard.record == search.median() && std::ranges::count(hard.why, Extreme::Median) > 0;
    }));
    const auto before = search.found().size();
    ask(R"({"record": {"text": "{word}", "lines": 1}})", 2000);
    EXPECT_FALSE(search.isWhole());
    EXPECT_EQ(search.found().size(), before) << "nothing is taken away by asking";
    ASSERT_TRUE(QTest::qWaitFor([&] { return search.isWhole() && !search.isBusy(); }, 30'000));
    search.doubt();
    EXPECT_FALSE(search.isWhole());
    search.forget();
    EXPECT_TRUE(search.found().empty());
    EXPECT_EQ(search.considered(), 0);
    EXPECT_EQ(search.median(), 0);
}

TEST(HardSearch, NothingToLookForIsToldAtOnceAndEndsWhatWasUnderWay) {
    HardSearch search;
    HardQuestion question;
    question.document = documentOf(R"({"record": {"text": "{word}"}})");
    question.records = records(50'000);
    search.ask(std::move(question));
    QSignalSpy looked(&search, &HardSearch::looked);
    search.settleForNone();
    EXPECT_TRUE(search.isWhole());
    EXPECT_EQ(looked.count(), 1);
    EXPECT_FALSE(search.isBusy());
    QCoreApplication::processEvents();
    EXPECT_TRUE(search.found().empty()) << "what was under way says nothing any more";
}

TEST(DesignDraft, ALineIsResizedAcrossItsBoxAndATextInWidthOnly) {
    DesignDraft draft(R"({"items": {"record": {"column": [
        {"row": [{"line": 1}, {"space": 4}, {"text": "a"}]}, {"line": 2}, {"space": 9}, {"picture": "p"}]}}})");
    const std::string column = "/items/record/column/";
    const auto said = [&](const std::string& at, const char* member) { return draft.member(at, member); };
    EXPECT_EQ(draft.resize(column + "0/row/0", 3, 40), "line");
    EXPECT_EQ(said(column + "0/row/0", "line"), 3.0);
    EXPECT_EQ(draft.resize(column + "0/row/1", 12, 40), "space");
    EXPECT_EQ(said(column + "0/row/1", "space"), 12.0);
    EXPECT_EQ(draft.resize(column + "0/row/2", 80, 40), "text");
    EXPECT_EQ(said(column + "0/row/2", "width"), 80.0);
    EXPECT_TRUE(said(column + "0/row/2", "height").is_null());
    EXPECT_EQ(draft.resize(column + "1", 70, 0.25), "line");
    EXPECT_EQ(said(column + "1", "line"), 1.0) << "a line is never nothing";
    EXPECT_EQ(draft.resize(column + "2", 70, 5), "space");
    EXPECT_EQ(said(column + "2", "space"), 5.0);
    EXPECT_EQ(draft.resize(column + "3", 70, 50), "picture");
    EXPECT_EQ(said(column + "3", "width"), 70.0);
    EXPECT_EQ(said(column + "3", "height"), 50.0);
    EXPECT_EQ(draft.resize("/items/nowhere", 1, 1), "");
}

TEST(SetParameter, ANumberStaysWithinItsBoundsAndEmptyWordsGo) {
    DesignDraft draft(R"({"parameters": {"most": 7, "word": {"value": "x", "unit": "mm", "title": "Old"}}})");
    Parameter most;
    most.name = "most";
    most.type = ParameterType::Number;
    most.from = 0;
    most.to = 5;
    most.step = 1;
    most.number = 7;
    most.unit = "km";
    setParameter(draft, most);
    Json is = draft.member({}, "parameters");
    EXPECT_EQ(is["most"],
              Json::parse(R"({"value": 5.0, "from": 0.0, "to": 5.0, "step": 1.0, "unit": "km"})"));
    Parameter word;
    word.name = "word";
    word.type = ParameterType::Text;
    word.title = "New";
    setParameter(draft, word);
    is = draft.member({}, "parameters");
    EXPECT_EQ(is["word"], Json::parse(R"({"value": "x", "title": "New"})"));
}

TEST(Answer, OffersArraysThatMayHoldTheItemsTheOutermostFirst) {
    Answer answer;
    answer.take(
        R"({"meta": {"tags": ["a"], "none": []}, "data": {"rows": [{"id": 1, "list": [1, 2]}, {"id": 2}]}})",
        "UTF-8", nullptr, {});
    EXPECT_THAT(answer.itemPaths(), ElementsAre("$['meta']['tags'][*]", "$['data']['rows'][*]"))
        << "neither what is empty nor what is inside an item";
    answer.treeIsRecords = true;
    EXPECT_THAT(answer.itemPaths(), IsEmpty()) << "what came was no JSON";
    Answer array;
    array.take(R"([{"id": 1, "list": [1]}])", "UTF-8", nullptr, {});
    EXPECT_THAT(array.itemPaths(), ElementsAre("$[*]", "$[0]['list'][*]"));
}

} // namespace
} // namespace scorrere::workbench
