// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/document/collection_document.h"

#include "engine/base/nesting.h"
#include "engine/document/script_file.h"

#include "engine/document/script_file.h"

#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

const std::string kSmall = R"({
  "scorrere": 1,
  "source": { "file": "a.ndjson" },
  "items": { "record": { "column": [
    { "text": "{name}", "size": 15 },
    { "row": [ { "picture": "p/{id}", "width": 40 }, { "line": 2 } ], "padding": [1, 2] }
  ] } }
})";

CollectionDocument good(const std::string& text) {
    auto parsed = CollectionDocument::parse(text, "/x/y.collection.json");
    EXPECT_TRUE(parsed) << parsed.error().text();
    return parsed ? *parsed : CollectionDocument();
}

Error bad(const std::string& from, const std::string& to) {
    std::string text = kSmall;
    const std::size_t at = text.find(from);
    EXPECT_NE(at, std::string::npos) << from;
    text.replace(at, from.size(), to);
    auto parsed = CollectionDocument::parse(text, "y.json");
    EXPECT_FALSE(parsed);
    return parsed ? Error{} : parsed.error();
}

TEST(CollectionDocument, ReadsAWholeFile) {
    const CollectionDocument document = good(kSmall);
    EXPECT_EQ(document.name, "y");
    EXPECT_EQ(document.folder(), "/x");
    ASSERT_EQ(document.item.children.size(), 2u);
    EXPECT_EQ(document.item.children[0].binding, "{name}");
    EXPECT_EQ(document.item.children[1].children[1].width, Length::px(2)) << "a line in a row stands upright";
    EXPECT_EQ(document.item.children[1].padding[1], Length::px(2));
    EXPECT_TRUE(document.notices.empty());
}

TEST(CollectionDocument, EditsAreKeptWhereThatIsAskedFor) {
    const std::string edits = R"("edits": [
        {"set": "4", "field": "count", "value": {"a": [1, "b"]}}, {"set": "4", "field": "note"},
        {"insert": {"id": 9, "name": "x"}, "before": "4"}, {"remove": "5"}, {"move": "6"}, {"move": "6", "before": "4"}],)";
    CollectionDocument document = good("{" + edits + kSmall.substr(1));
    ASSERT_EQ(document.edits.size(), 6u);
    EXPECT_TRUE(document.areEditsKept);
    EXPECT_EQ(document.edits[0]->value, R"({"a":[1,"b"]})");
    EXPECT_EQ(document.edits[1]->value, "");
    EXPECT_EQ(document.edits[2]->kind, RecordEdit::Kind::Insert);
    EXPECT_EQ(document.edits[5]->before, "4");
    EXPECT_TRUE(areSame(good(document.serialise()).edits, document.edits));
    document.areEditsKept = false;
    EXPECT_TRUE(good(document.serialise()).edits.empty());
    const CollectionDocument state = good(document.stateText());
    EXPECT_TRUE(areSame(state.edits, document.edits)) << "of what can be undone nothing is lost";
    EXPECT_FALSE(state.areEditsKept);
    EXPECT_TRUE(state.notices.empty());
}

TEST(CollectionDocument, WhatIsWrongInEditsIsSaidWithItsPlace) {
    const auto wrong = [](const std::string& edits) {
        auto parsed = CollectionDocument::parse("{\"edits\": " + edits + "," + kSmall.substr(1), "y.json");
        EXPECT_FALSE(parsed);
        return parsed ? Error{} : parsed.error();
    };
    EXPECT_EQ(wrong("3").place.pointer, "/edits");
    EXPECT_EQ(wrong(R"([{"remove": "5"}, {"delete": "5"}])").place.pointer, "/edits/1/set");
    EXPECT_EQ(wrong(R"([{"set": "5"}])").place.pointer, "/edits/0/field");
    EXPECT_EQ(wrong(R"([{"insert": 5}])").place.pointer, "/edits/0/insert");
    EXPECT_EQ(wrong(R"([{"move": ""}])").place.pointer, "/edits/0/move");
}

TEST(CollectionDocument, ErrorsNameThePlaceAndWhatToDo) {
    const Error size = bad("\"size\": 15", "\"size\": \"big\"");
    EXPECT_EQ(size.code, ErrorCode::Invalid);
    EXPECT_EQ(size.place.pointer, "/items/record/column/0/size");
    EXPECT_EQ(size.place.line, 5);
    EXPECT_THAT(size.text(), HasSubstr("must be a number, but is \"big\""));

    const Error version = bad("\"scorrere\": 1", "\"scorrere\": 7");
    EXPECT_EQ(version.code, ErrorCode::Version);
    EXPECT_EQ(version.place.line, 2);
    EXPECT_EQ(bad("\"scorrere\": 1", "\"other\": 1").code, ErrorCode::Version);

    const Error syntax = bad("\"items\": {", "\"items\": ,{");
    EXPECT_EQ(syntax.code, ErrorCode::Syntax);
    EXPECT_EQ(syntax.place.line, 4);

    EXPECT_EQ(bad("\"text\"", "\"txt\"").place.pointer, "/items/record/column/0");
    EXPECT_EQ(bad("\"size\": 15", "\"size\": -4").code, ErrorCode::Invalid);
    EXPECT_EQ(bad("\"size\": 15", "\"size\": 1e99").code, ErrorCode::Invalid);
    EXPECT_EQ(bad("\"padding\": [1, 2]", "\"padding\": [1, 2, 3]").code, ErrorCode::Invalid);
    EXPECT_EQ(bad("\"size\": 15", "\"colour\": \"reddish\"").place.pointer, "/items/record/column/0/colour");
    EXPECT_EQ(bad("\"file\": \"a.ndjson\"", "").code, ErrorCode::NotFound);
    EXPECT_EQ(bad("\"record\"", "\"recrod\"").code, ErrorCode::NotFound);
}

TEST(CollectionDocument, DeepAndWideDesignsAreRefusedNotFollowed) {
    std::string deep = "{\"text\":\"x\"}";
    for (int i = 0; i < 5000; ++i) {
        deep = "{\"column\":[" + deep + "]}";
    }
    auto parsed = CollectionDocument::parse(
        "{\"scorrere\":1,\"source\":{\"file\":\"a\"},\"items\":{\"record\":" + deep + "}}", "d.json");
    ASSERT_FALSE(parsed);
    EXPECT_EQ(parsed.error().code, ErrorCode::TooLarge);
}

TEST(CollectionDocument, UnknownMembersAreReportedAndKept) {
    std::string text = kSmall;
    text.replace(text.find("\"size\": 15"), 10, "\"size\": 15, \"sparkle\": [1, 2]");
    CollectionDocument document = good(text);
    ASSERT_EQ(document.notices.size(), 1u);
    EXPECT_THAT(document.notices[0], HasSubstr("/items/record/column/0/sparkle"));
    document.window.upright = false;
    const CollectionDocument again = good(document.serialise());
    EXPECT_EQ(again.notices, document.notices);
    EXPECT_FALSE(again.window.upright);
    EXPECT_EQ(again.item.children.size(), 2u);
}

TEST(CollectionDocument, AnUnchangedOneIsSavedAsItWas) {
    const std::string text = good(kSmall).serialise();
    EXPECT_EQ(good(text).serialise(), text);
    EXPECT_EQ(text.find("window"), std::string::npos);
}

TEST(CollectionDocument, FilesThatCannotBeReadAreNamed) {
    EXPECT_EQ(CollectionDocument::load("/nowhere/x.collection.json").error().code, ErrorCode::NotFound);
    EXPECT_EQ(CollectionDocument::load("/tmp").error().code, ErrorCode::Unreadable);
    const auto huge = std::filesystem::temp_directory_path() / "scorrere-huge.collection.json";
    std::ofstream(huge).put('x');
    std::filesystem::resize_file(huge, std::uintmax_t{2} << 30); // two GiB of nothing, sparse
    EXPECT_EQ(CollectionDocument::load(huge.string()).error().code, ErrorCode::TooLarge);
    std::filesystem::remove(huge);
}

TEST(CollectionDocument, SavingWhereItCannotGivesAnError) {
    const auto saved = good(kSmall).savedAs("/nowhere/at/all.json");
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().code, ErrorCode::Unwritable);
}

TEST(ScriptFile, ReadsEveryStep) {
    auto script = parseScript(R"({"scorrereScript":1,"name":"n","lasts":50,"steps":[
      {"at":0,"wheel":5},{"at":1,"drag":{"by":-9,"for":80}},{"at":2,"fling":-100},{"at":3,"key":"pageOn"},{"at":4,"jump":7},
      {"at":5,"map":0.5},{"at":6,"rotate":true},{"at":7,"resize":{"width":300,"height":400}},{"at":8,"textScale":1.5},
      {"at":9,"insert":{"at":1,"record":2,"count":3}},{"at":10,"remove":{"at":4,"count":5}},{"wait":"idle"},{"at":0,"wheel":1}]})",
                              "s.json");
    ASSERT_TRUE(script) << script.error().text();
    EXPECT_EQ(script->steps.size(), 13u);
    EXPECT_EQ(script->steps[1].b, 80);
    EXPECT_EQ(script->steps[9].c, 3);
    EXPECT_EQ(script->lastsMs, 50);
}

TEST(ScriptFile, BadStepsAreLocated) {
    const auto fault = [](const std::string& steps) {
        auto script = parseScript("{\"scorrereScript\":1,\n\"steps\":[" + steps + "]}", "s.json");
        EXPECT_FALSE(script);
        return script ? std::string() : script.error().text();
    };
    EXPECT_THAT(fault("{\"at\":0}"), HasSubstr("exactly one thing"));
    EXPECT_THAT(fault("{\"at\":0,\"wheel\":1,\"fling\":2}"), HasSubstr("exactly one thing"));
    EXPECT_THAT(fault("{\"at\":0,\"key\":\"sideways\"}"), HasSubstr("pageOn"));
    EXPECT_THAT(fault("{\"at\":9,\"wheel\":1},{\"at\":3,\"wheel\":1}"), HasSubstr("before the one above"));
    EXPECT_THAT(fault("{\"at\":0,\"map\":2}"), HasSubstr("s.json:2"));
    EXPECT_THAT(fault(R"({"at":0,"order":{"by":[{}]}})"), HasSubstr("/steps/0/order/by/0/field"));
    EXPECT_THAT(fault(R"({"at":0,"order":{"group":"x"}})"), HasSubstr("/steps/0/order/group is nothing"));
    EXPECT_THAT(fault(R"({"at":0,"edit":{"set":"4"}})"), HasSubstr("/steps/0/edit/field"));
    EXPECT_THAT(fault(R"({"at":0,"edit":{"remove":"4","now":1}})"),
                HasSubstr("/steps/0/edit/now is nothing"));
    EXPECT_FALSE(parseScript("{}", "s.json"));
    EXPECT_FALSE(parseScript("[", "s.json"));
}

TEST(SourceSpec, EverythingThatWasSaidComesBack) {
    const std::string text =
        R"({"scorrere":1,"source":{"address":"https://example.org/s{?page,size,q}","variables":{"q":"moth"},
        "headers":{"X-Trap":"north"},"timeoutMs":2000,"sign":{"header":{"name":"X-API-Key","secret":"NAME"}},
        "pages":{"style":"offset","size":50,"from":"page","count":"size","total":"$.total"},"form":"csv","items":"$.a[*]",
        "csv":{"delimiter":";","header":false},"charset":"windows-1252","undoDoubleDecoding":true,
        "fields":{"trap":{"path":"/place/trap","type":"text","title":"Trap","odd":1},"raw":{"leftOut":true},
        "weight":{"type":"number","locale":"de"}},"key":["id","trap"],
        "own":{"kept":true}},"items":{"record":{"text":"x"}}})";
    const auto document = CollectionDocument::parse(text, "a.collection.json");
    ASSERT_TRUE(document) << document.error().text();
    const auto again = CollectionDocument::parse(document->serialise(), "a.collection.json");
    ASSERT_TRUE(again) << again.error().text();
    EXPECT_TRUE(again->source == document->source);
    EXPECT_EQ(again->source.sign.kind, SignSpec::Kind::Header);
    ASSERT_EQ(again->source.reading.fields.size(), 3U);
    EXPECT_EQ(again->source.reading.fields[2].locale, "de");
    EXPECT_EQ(again->source.reading.delimiter, ';');
    EXPECT_EQ(again->source.reading.header, false);
    EXPECT_THAT(again->serialise(), ::testing::HasSubstr("\"kept\": true"));
    EXPECT_THAT(again->serialise(), ::testing::HasSubstr("\"odd\": 1"));
}

TEST(SourceSpec, WhatIsWrongIsPlaced) {
    const auto pointer = [](const std::string& source) {
        const auto document = CollectionDocument::parse(
            R"({"scorrere":1,"source":)" + source + R"(,"items":{"record":{"text":"x"}}})", "a");
        EXPECT_FALSE(document) << source;
        return document ? std::string() : document.error().place.pointer;
    };
    EXPECT_EQ(pointer("{}"), "/source/file");
    EXPECT_EQ(pointer(R"({"file":"a","address":"b"})"), "/source/address");
    EXPECT_EQ(pointer(R"({"address":"http://x/{a"})"), "/source/address");
    EXPECT_EQ(pointer(R"({"file":"a","items":"$["})"), "/source/items");
    EXPECT_EQ(pointer(R"({"file":"a","fields":{"n":{"type":"time","locale":"xxxxxxxxxxxx"}}})"),
              "/source/fields/n/locale");
    EXPECT_EQ(pointer(R"({"file":"a","fields":{"n":{"locale":"de"}}})"), "/source/fields/n/locale");
    EXPECT_EQ(pointer(R"({"file":"a","form":"yaml"})"), "/source/form");
    EXPECT_EQ(pointer(R"({"address":"http://x/","headers":{"Authorization":"Bearer s"}})"),
              "/source/headers");
    EXPECT_EQ(pointer(R"({"address":"http://x/","pages":{"size":0}})"), "/source/pages/size");
    EXPECT_EQ(pointer(R"({"file":"a","csv":{"delimiter":"ab"}})"), "/source/csv/delimiter");
    EXPECT_EQ(pointer(R"({"file":"a","fields":{"x":{"type":"colour"}}})"), "/source/fields/x/type");
    EXPECT_EQ(pointer(R"({"file":"a","sign":{}})"), "/source/sign");
}

TEST(CollectionDocument, WhatIsOfAnotherShapeIsToldAndNothingElse) {
    const auto with = [](const std::string& members) {
        return "{\"scorrere\": 1, \"source\": {\"list\": \"a\"}, \"items\": {\"record\": {\"text\": "
               "\"x\"}}, " +
               members + "}";
    };
    for (const char* members :
         {R"("pieces": [1])", R"("pieces": "x")", R"("pieces": {"p": 1})",
          R"("pieces": {"p": {"inputs": "x"}})", R"("pieces": {"p": {"inputs": {}, "part": {"text": "x"}}})",
          R"("parameters": [1])", R"("parameters": {"p": {"value": 1, "choices": "x"}})",
          R"("arrangement": 7)", R"("window": [])", R"("locale": "xxxxxxxxxxxx")", R"("locale": "")",
          R"("paging": {"startAt": 1e12})", R"("paging": {"startAt": 2000000000})"}) {
        const auto document = CollectionDocument::parse(with(members), "c.collection.json");
        ASSERT_FALSE(document) << members;
        EXPECT_EQ(document.error().place.line, 1) << members << document.error().text();
    }
    EXPECT_TRUE(CollectionDocument::parse(with(R"("locale": "de-CH")"), ""));
    EXPECT_TRUE(CollectionDocument::parse(with(R"("locale": "pt_BR")"), ""));
}

TEST(CollectionDocument, NothingNestsWithoutAnEnd) {
    const std::string deep = std::string(200'000, '[');
    for (const std::string& text :
         {deep, "{\"scorrere\": 1, \"unknown\": " + deep,
          R"({"scorrere": 1, "unknown": )" + deep + std::string(200'000, ']') + "}"}) {
        const auto document = CollectionDocument::parse(text, "c.json");
        ASSERT_FALSE(document);
        EXPECT_EQ(document.error().code, ErrorCode::TooLarge) << document.error().text().substr(0, 200);
        EXPECT_GT(document.error().place.column, kMaxNesting);
        EXPECT_FALSE(parseScript(text, "s.json"));
    }
}

} // namespace
} // namespace scorrere
