// SPDX-License-Identifier: GPL-3.0-or-later
// How a service is told of an edit: the call, and the member of the collection file that says so.
#include "engine/document/collection_document.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

namespace scorrere {
namespace {

using ::testing::HasSubstr;

constexpr const char* kRecord = R"({"id": 7, "name": "Wren \"x\"", "tags": ["a"], "near": null})";

EditRequest made(const SendSpec& spec, const RecordEdit& edit) {
    const auto request = requestOf(spec, edit, "7", kRecord);
    EXPECT_TRUE(request) << request.error().text();
    return request ? *request : EditRequest{};
}

SendSpec everywhere(const std::string& address, const std::string& body = {}) {
    SendSpec spec;
    for (SendRule* rule : {&spec.set, &spec.insert, &spec.remove}) {
        rule->address = address;
        rule->body = body;
    }
    return spec;
}

TEST(SendSpec, WithoutABodyAValueIsAMergePatchAndARecordGoesAsItIs) {
    const SendSpec spec = everywhere("https://example.org/birds/{id}{?name}");
    const EditRequest set = made(spec, {RecordEdit::Kind::Set, "7", "count", "12", {}});
    EXPECT_EQ(set.method, "PATCH");
    EXPECT_EQ(set.address, "https://example.org/birds/7?name=Wren%20%22x%22");
    EXPECT_EQ(set.body, R"({"count":12})");
    EXPECT_EQ(set.contentType, "application/merge-patch+json");
    EXPECT_EQ(made(spec, {RecordEdit::Kind::Set, "7", "count", {}, {}}).body, R"({"count":null})");
    const EditRequest insert = made(spec, {RecordEdit::Kind::Insert, {}, {}, kRecord, {}});
    EXPECT_EQ(insert.method, "POST");
    EXPECT_EQ(nlohmann::json::parse(insert.body), nlohmann::json::parse(kRecord));
    EXPECT_EQ(insert.contentType, "application/json");
    const EditRequest remove = made(spec, {RecordEdit::Kind::Remove, "7", {}, {}, {}});
    EXPECT_EQ(remove.method, "DELETE");
    EXPECT_EQ(remove.body, "");
}

TEST(SendSpec, ABodyHasValuesOfTheirOwnTypesWhereATextIsAName) {
    const SendSpec spec = everywhere(
        "/birds/{key}",
        R"({"{field}": "{value}", "of": ["{id}", "{tags}", "{near}"], "say": "{name}: {id}, {other}", "all": "{record}"})");
    EXPECT_EQ(nlohmann::json::parse(made(spec, {RecordEdit::Kind::Set, "7", "count", "[1]", {}}).body),
              nlohmann::json::parse(
                  R"({"count": [1], "of": [7, ["a"], null], "say": "Wren \"x\": 7, {other}", "all": )" +
                  std::string(kRecord) + "}"));
}

TEST(SendSpec, WhatIsNotSaidIsAnErrorThatSaysWhereToSayIt) {
    const auto request = requestOf({}, {RecordEdit::Kind::Set, "7", "count", "12", {}}, "7", kRecord);
    ASSERT_FALSE(request);
    EXPECT_THAT(request.error().advice, HasSubstr("\"send\""));
    EXPECT_FALSE(requestOf(everywhere("/a"), {RecordEdit::Kind::Move, "7", {}, {}, {}}, "7", kRecord));
    EXPECT_FALSE(requestOf(everywhere("/a", "{"), {RecordEdit::Kind::Set, "7", "n", "1", {}}, "7", kRecord));
}

std::string fileWith(const std::string& send) {
    return R"({"scorrere": 1, "source": {"address": "https://example.org/birds"}, "items": {"record": {"text": "{name}"}})" +
           (send.empty() ? std::string() : ", \"send\": " + send) + "}";
}

TEST(SendSpec, IsReadFromTheFileAndWrittenAsItWas) {
    auto document = CollectionDocument::parse(
        fileWith(
            R"({"set": {"method": "PUT", "address": "/birds/{id}", "body": {"{field}": "{value}"}}, "remove": {"address": "/birds/{id}"}})"),
        "");
    ASSERT_TRUE(document) << document.error().text();
    EXPECT_EQ(document->send.set.method, "PUT");
    EXPECT_EQ(document->send.remove.method, "DELETE");
    EXPECT_FALSE(document->send.insert.isGiven());
    const auto again = CollectionDocument::parse(document->serialise(), "");
    ASSERT_TRUE(again);
    EXPECT_EQ(again->send, document->send);
    document->send.set = SendRule{"PATCH", {}, {}};
    document->send.remove.address.clear();
    EXPECT_EQ(document->serialise().find("\"send\""), std::string::npos) << "what is not said is not written";
}

TEST(SendSpec, WhatIsWrongInTheFileIsToldWhereItStands) {
    const auto errorOf = [](const char* send) {
        const auto document = CollectionDocument::parse(fileWith(send), "");
        return document ? std::string() : document.error().place.pointer + ": " + document.error().message;
    };
    EXPECT_THAT(errorOf(R"({"set": {"method": "GET", "address": "/a"}})"), HasSubstr("/send/set/method"));
    EXPECT_THAT(errorOf(R"({"set": {}})"), HasSubstr("/send/set/address: it is not said where"));
    EXPECT_THAT(errorOf(R"({"remove": {"address": "/a{"}})"), HasSubstr("/send/remove/address"));
}

} // namespace
} // namespace scorrere
