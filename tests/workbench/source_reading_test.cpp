// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/source_reading.h"

#include "render/source_call.h"

#include "workbench/model/demo_service.h"

#include <QTemporaryDir>
#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

namespace scorrere::workbench {
namespace {

using ::testing::HasSubstr;
using ::testing::Not;

class SourceReadingTest : public ::testing::Test {
protected:
    SourceNeeds needs() {
        SourceNeeds needs;
        needs.folder = folder_.path().toStdString();
        needs.demoAddress = [this] { return demo_.address(); };
        needs.secret = DemoService::kToken;
        return needs;
    }
    SourceSpec service(const std::string& address) {
        SourceSpec source;
        source.address = address;
        source.sign = {SignSpec::Kind::Bearer, DemoService::kTokenName, {}};
        return source;
    }
    Result<SourceRead> read(const SourceSpec& source) {
        SourceHandlers handlers;
        handlers.answered = [this](const Answer& answer) { answer_ = answer; };
        return readSource(source, needs(), {}, handlers);
    }
    std::string write(const char* name, const std::string& text) {
        std::ofstream(folder_.filePath(QString::fromLatin1(name)).toStdString(), std::ios::binary) << text;
        return name;
    }
    QTemporaryDir folder_;
    DemoService demo_;
    Answer answer_;
};

TEST_F(SourceReadingTest, AsksAServiceAndLinksItsFieldsToTheAnswer) {
    SourceSpec source = service("demo:/sightings{?page,size}");
    source.pages.style = PageStyle::Number;
    source.pages.size = 7;
    source.variables = {{"page", "2"}};
    const auto read = this->read(source);
    ASSERT_TRUE(read) << read.error().text();
    EXPECT_EQ(read->records->size(), 7);
    EXPECT_EQ(read->reading.used.items, "$.data.sightings[*]");
    const Answer& answer = read->answer;
    EXPECT_EQ(answer.http.status, 200);
    EXPECT_THAT(answer.place, HasSubstr("/sightings?page=2&size=7"));
    ASSERT_GE(answer.items, 0);
    EXPECT_EQ(answer.tree.pathOf(static_cast<std::size_t>(answer.items), answer.treeText),
              "$['data']['sightings']");
    const auto id = read->records->find("id");
    const auto node = answer.fields[static_cast<std::size_t>(id->index)];
    EXPECT_EQ(JsonOutline::nameOf(answer.tree.nodes[static_cast<std::size_t>(node)], answer.treeText), "id");
}

struct Fault {
    const char* fault;
    const char* says;
    friend void PrintTo(const Fault& f, std::ostream* out) { *out << f.fault; }
};
class SourceFaults : public SourceReadingTest, public ::testing::WithParamInterface<Fault> {};

TEST_P(SourceFaults, HaveAMessageOfTheirOwnAndANextStep) {
    SourceSpec source = service("demo:/sightings{?page,size,fault}");
    source.variables = {{"fault", GetParam().fault}};
    source.reading.items = "$.data.sightings[*]";
    const auto read = this->read(source);
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().text(), HasSubstr(GetParam().says));
    EXPECT_FALSE(read.error().advice.empty());
    EXPECT_THAT(read.error().text(), Not(HasSubstr(DemoService::kToken)));
}

INSTANTIATE_TEST_SUITE_P(Each, SourceFaults,
                         ::testing::Values(Fault{"unauthorised", "(401)"}, Fault{"forbidden", "(403)"},
                                           Fault{"missing", "(404)"}, Fault{"busy", "wait 2 s"},
                                           Fault{"broken", "(500)"}, Fault{"away", "(503)"},
                                           Fault{"page", "web page titled \"Sign in to the marsh\""},
                                           Fault{"empty", "the answer is empty"}, Fault{"nul", "NUL bytes"},
                                           Fault{"number", "\"data\""}, Fault{"deep", "\"data\""},
                                           Fault{"circle", "redirects more than"},
                                           Fault{"large", "larger than 64 MiB"}),
                         [](const auto& given) { return std::string(given.param.fault); });

struct Flaw {
    const char* fault;
    const char* says;
    friend void PrintTo(const Flaw& f, std::ostream* out) { *out << f.fault; }
};
class SourceFlaws : public SourceReadingTest, public ::testing::WithParamInterface<Flaw> {};

/// Where some records can be read, they are, and what is wrong stands beside them.
TEST_P(SourceFlaws, AreFindingsBesideTheRecords) {
    SourceSpec source = service("demo:/sightings{?page,size,fault}");
    source.variables = {{"fault", GetParam().fault}, {"page", "2"}, {"size", "40"}};
    source.reading.items = "$.data.sightings[*]";
    source.key = {"id"};
    const auto read = this->read(source);
    ASSERT_TRUE(read) << read.error().text();
    EXPECT_GT(read->records->size(), 5);
    const auto examination = examine(*read->records, source.key, {});
    ASSERT_TRUE(examination);
    std::string all;
    for (const SourceFinding& finding : sourceFindings(read->reading, read->answer, &*examination, false)) {
        all += finding.text + "\n";
        EXPECT_FALSE(finding.advice.empty());
    }
    EXPECT_THAT(all, HasSubstr(GetParam().says));
}

INSTANTIATE_TEST_SUITE_P(Each, SourceFlaws,
                         ::testing::Values(Flaw{"truncated", "not whole: the connection closed"},
                                           Flaw{"too-long", "not whole: the connection closed"},
                                           Flaw{"too-short", "cut off"}, Flaw{"bad-utf8", "not UTF-8"},
                                           Flaw{"twice-decoded", "decoded twice"}),
                         [](const auto& given) {
                             std::string name = given.param.fault;
                             std::replace(name.begin(), name.end(), '-', '_');
                             return name;
                         });

TEST_F(SourceReadingTest, ASecretIsShownByItsNameOnly) {
    const CallPreview preview = previewCall(service("demo:/sightings{?page}"), needs());
    std::string shown = preview.address;
    for (const auto& [name, value] : preview.headers) {
        shown += name + value;
    }
    EXPECT_THAT(shown, HasSubstr("•••• (HOLLOWMERE)"));
    EXPECT_THAT(shown, Not(HasSubstr(DemoService::kToken)));
    EXPECT_EQ(scorrere::render::masked("a light-trap-7 b", "light-trap-7"), "a •••• b");
    EXPECT_EQ(scorrere::render::masked("text", ""), "text");
}

TEST_F(SourceReadingTest, WithoutTheSecretTheServiceAsksForIt) {
    SourceNeeds without = needs();
    without.secret.reset();
    const auto read = readSource(service("demo:/sightings"), without, {}, {});
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().text(), HasSubstr("(401)"));
}

TEST_F(SourceReadingTest, ReadsFilesListsAndOtherForms) {
    SourceSpec file;
    file.file = write("a.csv", "id,name\n1,Pale\n2,Marsh\n");
    const auto csv = read(file);
    ASSERT_TRUE(csv) << csv.error().text();
    EXPECT_EQ(csv->records->size(), 2);
    EXPECT_TRUE(csv->answer.treeIsRecords);
    EXPECT_EQ(csv->answer.treeText, "[{\"id\": 1, \"name\": \"Pale\"},\n{\"id\": 2, \"name\": \"Marsh\"}]");
    EXPECT_EQ(csv->answer.text, "id,name\n1,Pale\n2,Marsh\n");
    SourceSpec list;
    list.list = "one\ntwo";
    EXPECT_EQ(read(list)->records->size(), 2);
    for (const char* path : {"demo:/sightings.csv", "demo:/sightings.ndjson", "demo:/sightings.xml",
                             "demo:/by-link", "demo:/by-offset", "demo:/by-cursor", "demo:/by-next"}) {
        const auto other = read(service(path));
        ASSERT_TRUE(other) << path << other.error().text();
        EXPECT_EQ(other->records->size(), 20) << path;
    }
    SourceSpec gone;
    gone.file = "gone.json";
    EXPECT_EQ(read(gone).error().code, ErrorCode::NotFound);
}

TEST_F(SourceReadingTest, ATextThatWasReadInTheWrongCharsetCanBeMended) {
    SourceSpec file;
    file.file = write("a.json", R"([{"id":1,"s":"café"},{"id":2,"s":"naïve"}])");
    file.reading.charset = "windows-1252";
    const auto wrong = read(file);
    ASSERT_TRUE(wrong);
    const auto examination = examine(*wrong->records, {}, {});
    const auto findings = sourceFindings(wrong->reading, wrong->answer, &*examination, false);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].mend, SourceFinding::Mend::ReadAsUtf8);
    EXPECT_EQ(findings[0].count, 2);
}

TEST_F(SourceReadingTest, KeysAreProposedAndANearMissIsTold) {
    SourceSpec list;
    list.list = R"([{"id":1,"n":"a"},{"id":1,"n":"b"}])";
    const auto read = this->read(list);
    ASSERT_TRUE(read);
    const auto examination = examine(*read->records, {}, {});
    EXPECT_THAT(examination->key, ::testing::ElementsAre("n"));
    EXPECT_TRUE(examination->keyIsProposed);
    const auto findings = sourceFindings(read->reading, read->answer, &*examination, false);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_THAT(findings[0].text, HasSubstr("a record with the same id as an earlier one"));
    EXPECT_EQ(findings[0].field, "id") << "what is shown when it is looked at";
}

TEST_F(SourceReadingTest, ARecordThatLacksWhatAllOthersHaveIsTold) {
    SourceSpec list;
    list.reading.items = "/s/r";
    list.list = "<s>";
    for (int i = 0; i < 8; ++i) {
        list.list += i == 5 ? "<r><id>5</id></r>" : fmt::format("<r><id>{}</id><place>p{}</place></r>", i, i);
    }
    list.list += "</s>";
    const auto read = this->read(list);
    ASSERT_TRUE(read) << read.error().text();
    const auto examination = examine(*read->records, {}, {});
    const auto findings = sourceFindings(read->reading, read->answer, &*examination, false);
    ASSERT_EQ(findings.size(), 1U);
    EXPECT_EQ(findings[0].text, "record 6 is the only one without place");
    EXPECT_THAT(findings[0].records, ::testing::ElementsAre(5));
    EXPECT_FALSE(findings[0].isWarning);
}

} // namespace
} // namespace scorrere::workbench
