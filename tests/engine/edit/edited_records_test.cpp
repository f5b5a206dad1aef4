// SPDX-License-Identifier: GPL-3.0-or-later
#include "engine/edit/edited_records.h"

#include "engine/record/reading.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <map>
#include <rapidcheck/gtest.h>
#include <set>

namespace scorrere {
namespace {

using ::testing::ElementsAre;
using ::testing::HasSubstr;
using ::testing::IsEmpty;

using Kind = RecordEdit::Kind;

std::shared_ptr<const RecordTable> editedTableOf(const std::string& json) {
    ReadOptions options;
    options.form = SourceForm::Json;
    options.items = "$[*]";
    auto reading = readRecordsText(json, "test", options, "UTF-8");
    EXPECT_TRUE(reading) << (reading ? "" : reading.error().text());
    return std::make_shared<const RecordTable>(std::move(reading->records));
}

std::shared_ptr<const RecordTable> mothsTable() {
    return editedTableOf(R"([{"id": "a", "name": "ash", "count": 3, "kept": true},
                       {"id": "b", "name": "bee", "count": 1},
                       {"id": "c", "name": "cat", "count": 2, "kept": false}])");
}

RecordEdit set(std::string key, std::string field, std::string value) {
    return {Kind::Set, std::move(key), std::move(field), std::move(value), {}};
}
RecordEdit insert(std::string record, std::string before = {}) {
    return {Kind::Insert, {}, {}, std::move(record), std::move(before)};
}
RecordEdit removed(std::string key) {
    return {Kind::Remove, std::move(key), {}, {}, {}};
}
RecordEdit moved(std::string key, std::string before) {
    return {Kind::Move, std::move(key), {}, {}, std::move(before)};
}

RecordEdits editedListOf(const std::vector<RecordEdit>& edits) {
    RecordEdits list;
    for (const RecordEdit& edit : edits) {
        list.push_back(std::make_shared<const RecordEdit>(edit));
    }
    return list;
}

EditedRecords edited(const std::shared_ptr<const RecordTable>& source, const std::vector<RecordEdit>& edits,
                     const std::vector<std::string>& key = {"id"}) {
    RecordKeys keys(source, key);
    return *withEdits(keys, editedListOf(edits), {});
}

std::vector<std::string> editedRowsOf(const EditedRecords& edited) {
    std::vector<std::string> rows;
    for (std::int64_t place = 0; place < edited.given.size(); ++place) {
        rows.push_back(recordJson(*edited.records, edited.given.at(place)));
    }
    return rows;
}

TEST(EditedRecords, AValueIsAnotherAndTheSourceStaysWhatItIs) {
    const auto source = mothsTable();
    const EditedRecords made = edited(source, {set("b", "count", "7"), set("c", "kept", "true"),
                                               set("a", "kept", ""), set("b", "name", "\"wasp \\\"x\\\"\"")});
    EXPECT_THAT(editedRowsOf(made), ElementsAre(R"({"id": "a", "name": "ash", "count": 3})",
                                                R"({"id": "b", "name": "wasp \"x\"", "count": 7})",
                                                R"({"id": "c", "name": "cat", "count": 2, "kept": true})"));
    EXPECT_THAT(made.touched, ElementsAre(0, 1, 2));
    EXPECT_TRUE(made.isGivenAsSource);
    EXPECT_EQ(source->integer(1, *source->find("count")), 1);
    EXPECT_THAT(made.refusals, ::testing::Each(IsEmpty()));
}

TEST(EditedRecords, ColumnsThatNothingIsSetInAreShared) {
    const auto source = mothsTable();
    const EditedRecords made = edited(source, {set("b", "count", "7")});
    const auto column = [](const RecordTable& records, const char* name) {
        return records.stretchAt(0).column(*records.find(name));
    };
    EXPECT_EQ(column(*made.records, "name"), column(*source, "name"));
    EXPECT_NE(column(*made.records, "count"), column(*source, "count"));
}

TEST(EditedRecords, AFieldBecomesAsWideAsItsValueAndANewOneIsMade) {
    const EditedRecords made =
        edited(mothsTable(), {set("b", "count", "1.5"), set("c", "found", "\"2025-04-11\"")});
    EXPECT_EQ(made.records->field(*made.records->find("count")).type, FieldType::Real);
    EXPECT_EQ(made.records->real(0, *made.records->find("count")), 3);
    EXPECT_EQ(made.records->field(*made.records->find("found")).type, FieldType::Time);
    EXPECT_FALSE(made.records->has(1, *made.records->find("found")));
}

TEST(EditedRecords, RecordsComeGoAndMoveByKey) {
    const EditedRecords made =
        edited(mothsTable(), {insert(R"({"id": "d", "name": "dog", "extra": 1})", "b"), removed("a"),
                              moved("c", "d"), set("d", "count", "9"), moved("b", "")});
    EXPECT_THAT(editedRowsOf(made), ElementsAre(R"({"id": "c", "name": "cat", "count": 2, "kept": false})",
                                                R"({"id": "d", "name": "dog", "count": 9, "extra": 1})",
                                                R"({"id": "b", "name": "bee", "count": 1})"));
    EXPECT_FALSE(made.isGivenAsSource);
    EXPECT_THAT(made.numbers, ElementsAre(3, 0, 2, 3, 1));
}

TEST(EditedRecords, WhatCannotBeInForceSaysWhyAndTheRestIs) {
    const EditedRecords made =
        edited(mothsTable(), {set("x", "count", "1"), removed("a"), set("a", "count", "1"),
                              set("b", "count", "1}, {\"id\": 2"), insert("[1]"), insert(R"({"id": "b"})"),
                              insert(R"({"name": "no key"})"), moved("b", "nobody"),
                              insert(R"({"id": "e"})", "gone"), set("b", "count", "5")});
    EXPECT_THAT(made.refusals, ElementsAre("no record is called x", "", "a was removed before",
                                           HasSubstr("no JSON"), "a record is a JSON object",
                                           "there is a record b already", HasSubstr("it has no id"),
                                           HasSubstr("no record nobody"), HasSubstr("no record gone"), ""));
    EXPECT_THAT(editedRowsOf(made), ElementsAre(R"({"id": "b", "name": "bee", "count": 5})",
                                                R"({"id": "c", "name": "cat", "count": 2, "kept": false})"));
}

TEST(EditedRecords, WithoutAKeyRecordsAreNumbered) {
    const auto source = editedTableOf(R"([{"word": "x"}, {"word": "x"}, {"word": "x"}])");
    EXPECT_THAT(editedRowsOf(edited(source,
                                    {set("2", "word", "\"y\""), removed("1"), insert(R"({"word": "z"})", "3"),
                                     set("4", "word", "\"zz\"")},
                                    {})),
                ElementsAre(R"({"word": "y"})", R"({"word": "zz"})", R"({"word": "x"})"));
}

TEST(EditedRecords, OfMadeUpRecordsThoseThereAreCanBeEditedAndOthersInserted) {
    const auto own = mothsTable();
    const auto many = std::make_shared<const RecordTable>(own->asIf(40'000, {*own->find("id")}));
    RecordKeys keys(many, {"id"});
    const std::string madeUp = keys.of(20'000);
    const EditedRecords made = *withEdits(
        keys,
        editedListOf({set("b", "name", "\"wasp\""), insert(R"({"id": "new", "name": "first"})", "a"),
                      set(madeUp, "name", "\"x\""), removed(madeUp), insert(R"({"id": "last"})")}),
        {});
    EXPECT_THAT(made.refusals, ElementsAre("", "", HasSubstr("made up"), "", ""));
    ASSERT_EQ(made.given.size(), 40'001);
    const FieldHandle name = *made.records->find("name");
    EXPECT_EQ(made.records->text(made.given.at(0), name), "first");
    EXPECT_EQ(made.records->text(made.given.at(2), name), "wasp");
    EXPECT_EQ(recordJson(*made.records, made.given.at(40'000)), R"({"id": "last"})");
    for (const std::int64_t record : {5, 16'383, 16'384, 39'999}) {
        EXPECT_EQ(keys.ofIn(*made.records, record), keys.of(record));
        const std::string& drawn = recordJson(*many, record);
        EXPECT_EQ(recordJson(*made.records, record).find("wasp") != std::string::npos,
                  drawn.find("bee") != std::string::npos);
    }
}

TEST(EditedRecords, StoppedItSaysSo) {
    std::stop_source stop;
    stop.request_stop();
    RecordKeys keys(mothsTable(), {"id"});
    auto made = withEdits(keys, editedListOf({set("b", "count", "7")}), stop.get_token());
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().code, ErrorCode::Cancelled);
}

/// Records as a plain list of plain maps.
struct Plainly {
    std::vector<std::pair<std::string, std::map<std::string, std::string>>> rows;
    std::set<std::string> known; ///< keys, also of those that went

    auto find(const std::string& key) {
        return std::ranges::find(rows, key, [](const auto& row) { return row.first; });
    }
    void apply(const RecordEdit& edit) {
        if (edit.kind == Kind::Insert) {
            const std::string key = edit.value.substr(7, edit.value.find('"', 7) - 7);
            const auto before = edit.before.empty() ? rows.end() : find(edit.before);
            if (known.contains(key) || (before == rows.end() && !edit.before.empty())) {
                return;
            }
            known.insert(key);
            rows.insert(before, {key, {{"id", '"' + key + '"'}}});
            return;
        }
        const auto row = find(edit.key);
        if (row == rows.end()) {
            return;
        }
        if (edit.kind == Kind::Set) {
            edit.value.empty() ? (void)row->second.erase(edit.field)
                               : (void)(row->second[edit.field] = edit.value);
        } else if (edit.kind == Kind::Remove) {
            rows.erase(row);
        } else if (edit.before != edit.key && (edit.before.empty() || find(edit.before) != rows.end())) {
            auto taken = *row;
            rows.erase(row);
            rows.insert(edit.before.empty() ? rows.end() : find(edit.before), std::move(taken));
        }
    }
};

RC_GTEST_PROP(EditedRecords, AnyEditsMakeWhatAPlainListBecomes, ()) {
    const int count = *rc::gen::inRange(0, 12);
    Plainly plainly;
    std::string json = "[";
    for (int i = 0; i < count; ++i) {
        const std::string key = "k" + std::to_string(i);
        json += (i > 0 ? "," : "") + ("{\"id\": \"" + key + "\", \"count\": " + std::to_string(i) + "}");
        plainly.rows.push_back({key, {{"id", '"' + key + '"'}, {"count", std::to_string(i)}}});
        plainly.known.insert(key);
    }
    json += "]";
    const auto anyKey = [&] { return "k" + std::to_string(*rc::gen::inRange(0, count + 6)); };
    std::vector<RecordEdit> edits;
    for (int i = *rc::gen::inRange(0, 25); i > 0; --i) {
        const std::string before = *rc::gen::inRange(0, 4) == 0 ? "" : anyKey();
        switch (*rc::gen::inRange(0, 5)) {
        case 0:
            edits.push_back(insert("{\"id\":\"" + anyKey() + "\"}", before));
            break;
        case 1:
            edits.push_back(removed(anyKey()));
            break;
        case 2:
            edits.push_back(moved(anyKey(), before));
            break;
        default:
            edits.push_back(
                set(anyKey(), *rc::gen::arbitrary<bool>() ? "count" : "note",
                    *rc::gen::inRange(0, 4) == 0 ? "" : std::to_string(*rc::gen::inRange(-300, 300))));
            break;
        }
    }
    std::ranges::for_each(edits, [&](const RecordEdit& edit) { plainly.apply(edit); });
    const EditedRecords made =
        edited(count == 0 ? std::make_shared<const RecordTable>() : editedTableOf(json), edits, {"id"});
    if (count == 0) { // of no records nobody knows the key
        return;
    }
    std::vector<std::map<std::string, std::string>> have;
    for (std::int64_t place = 0; place < made.given.size(); ++place) {
        auto& row = have.emplace_back();
        const std::int64_t record = made.given.at(place);
        for (const char* name : {"id", "count", "note"}) {
            if (const auto field = made.records->find(name); field && made.records->has(record, *field)) {
                const std::string value = made.records->display(record, *field);
                row[name] = name == std::string("id") ? '"' + value + '"' : value;
            }
        }
    }
    std::vector<std::map<std::string, std::string>> want;
    for (const auto& [key, row] : plainly.rows) {
        want.push_back(row);
    }
    RC_ASSERT(have == want);
}

TEST(EditedRecords, OverSegmentsOnlyThoseThatAreTouchedAreOthers) {
    std::string json = "[";
    for (int i = 0; i < 40'000; ++i) {
        json += (i > 0 ? "," : "") +
                ("{\"id\": " + std::to_string(i) + ", \"text\": \"t" + std::to_string(i) + "\"}");
    }
    const auto source = editedTableOf(json + "]");
    const EditedRecords made =
        edited(source, {set("20000", "text", "\"other\""), insert(R"({"id": 90000, "text": "behind"})")});
    ASSERT_EQ(made.records->size(), 40'001);
    EXPECT_EQ(made.records->segments()[0], source->segments()[0]);
    EXPECT_NE(made.records->segments()[1], source->segments()[1]);
    const FieldHandle text = *made.records->find("text");
    for (const std::int64_t record : {0, 16'384, 19'999, 20'001, 32'768, 39'999}) {
        EXPECT_EQ(made.records->text(record, text), source->text(record, text));
    }
    EXPECT_EQ(made.records->text(20'000, text), "other");
    EXPECT_EQ(made.records->text(40'000, text), "behind");
}

TEST(EditedRecords, AnOrderIsToldInTheNumbersThatWhatWasInsertedHasNext) {
    const auto source = mothsTable();
    const RecordEdit one = insert(R"({"id": "one"})");
    const RecordEdit two = insert(R"({"id": "two"})", "a");
    const EditedRecords before = edited(source, {one, two});
    const auto numbers = [](const RecordOrder& order) {
        std::vector<std::uint32_t> all;
        order.appendTo(all);
        return all;
    };
    EXPECT_THAT(numbers(before.given), ElementsAre(4, 0, 1, 2, 3));
    const EditedRecords after = edited(source, {two});
    EXPECT_THAT(numbers(inNumbersOf(before.given, &before, &after)),
                ElementsAre(3, 0, 1, 2, RankedRecords::kNowhere));
    EXPECT_THAT(numbers(inNumbersOf(before.given, &before, nullptr)),
                ElementsAre(RankedRecords::kNowhere, 0, 1, 2, RankedRecords::kNowhere));
    EXPECT_THAT(numbers(inNumbersOf(before.given, &before, &before)), ElementsAre(4, 0, 1, 2, 3));
}

TEST(EditedRecords, OfARankingThoseStayThatAreThereInTheOrderGivenWhereNothingSorts) {
    const EditedRecords made = edited(mothsTable(), {removed("b"), moved("c", "a")});
    EXPECT_THAT(keptOf({0, 1, 2}, made.given, 3, false), ElementsAre(2, 0));
    EXPECT_THAT(keptOf({0, 1, 2}, made.given, 3, true), ElementsAre(0, 2));
    EXPECT_THAT(keptOf({0}, made.given, 3, false), ElementsAre(0));
}

} // namespace
} // namespace scorrere
