// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/source_reading.h"

#include "engine/record/charset.h"
#include "engine/record/record_json.h"
#include "engine/record/uri_template.h"
#include "render/source_call.h"
#include "service/moths.h"
#include "workbench/model/page_hints.h"

#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace scorrere::workbench {

namespace {

class SourceReader {
public:
    SourceReader(const SourceSpec& source, const SourceNeeds& needs, std::stop_token stop,
                 const SourceHandlers& handlers)
        : source_(source), needs_(needs), stop_(std::move(stop)), handlers_(handlers) {
        reading_.progress = handlers.progress;
        reading_.grown = handlers.grown;
    }

    Result<SourceRead> read() {
        if (source_.isDemo) {
            return readDemo();
        }
        return source_.isService() ? readService() : source_.file.empty() ? readList() : readFile();
    }

private:
    Result<SourceRead> finished(Reading reading, std::string_view body) {
        SourceRead read;
        answer_.take(body, reading.used.charset, &reading, source_.reading.fields);
        tellAnswer();
        if (reading.used.form == SourceForm::Xml) {
            read.elements = xmlElementPaths(answer_.text);
        }
        read.records = std::make_shared<const RecordTable>(std::move(reading.records));
        reading.records = {};
        read.reading = std::move(reading);
        read.answer = std::move(answer_);
        return read;
    }
    void tellAnswer() {
        if (handlers_.answered) {
            handlers_.answered(answer_);
        }
    }

    Result<SourceRead> readDemo() {
        Reading reading;
        reading.used.form = SourceForm::Json;
        auto records = service::makeSightings(
            source_.demoCount, source_.demoSeed, stop_, handlers_.progress,
            service::SightingsIn{source_.demoByNight, source_.demoWatches, source_.demoCompany});
        if (!records) {
            return std::move(records.error());
        }
        reading.records = std::move(*records);
        reading.charsetWhy = "made here";
        answer_.place = "made here";
        std::string body = "[";
        for (std::int64_t i = 0; i < std::min(reading.records.size(), Answer::kShownRecords); ++i) {
            body += (i > 0 ? ",\n" : "\n") + recordJson(reading.records, i);
        }
        body += "\n]\n";
        reading.used.items = "$[*]";
        answer_.bytes = static_cast<std::int64_t>(body.size());
        return finished(std::move(reading), body);
    }

    Result<SourceRead> readList() {
        answer_.place = "the list";
        answer_.bytes = static_cast<std::int64_t>(source_.list.size());
        auto reading = readRecordsText(source_.list, "the list", source_.reading, "UTF-8", stop_, reading_);
        return withBody(std::move(reading), source_.list);
    }

    Result<SourceRead> withBody(Result<Reading> reading, std::string_view body) {
        if (!reading) {
            answer_.take(body, answer_.http.charset, nullptr, {});
            tellAnswer();
            return std::move(reading.error());
        }
        return finished(std::move(*reading), body);
    }

    Result<SourceRead> readFile() {
        const std::string path = (std::filesystem::path(needs_.folder) / source_.file).string();
        answer_.place = path;
        std::error_code failed;
        const auto size = std::filesystem::file_size(path, failed);
        answer_.bytes = failed ? 0 : static_cast<std::int64_t>(size);
        std::string start(Answer::kShownBytes, '\0');
        std::ifstream in;
        if (std::filesystem::is_regular_file(path, failed)) { // opening a pipe waits
            in.open(path, std::ios::binary);
        }
        in.read(start.data(), static_cast<std::streamsize>(start.size()));
        start.resize(static_cast<std::size_t>(in.gcount()));
        auto reading = readRecordsFile(path, source_.reading, stop_, reading_);
        if (reading && reading->used.form == SourceForm::Sqlite) {
            start = fmt::format("{}\n", reading->used.query.empty() ? "SELECT * FROM " + reading->used.table
                                                                    : reading->used.query);
        }
        std::vector<std::string> tables;
        if (reading && reading->used.form == SourceForm::Sqlite) {
            if (auto listed = sqliteTables(path)) {
                tables = std::move(*listed);
            }
        }
        auto read = withBody(std::move(reading), start);
        if (read) {
            read->tables = std::move(tables);
        }
        return read;
    }

    Result<SourceRead> readService() {
        std::string base;
        if (source_.address.starts_with(render::kDemoScheme)) {
            auto address = needs_.demoAddress();
            if (!address) {
                return std::move(address.error());
            }
            base = *address;
        }
        auto address = render::expandedAddress(source_.address, render::sourceVariables(source_), base);
        if (!address) {
            return std::move(address.error());
        }
        const std::string secret = needs_.secret.value_or("");
        render::HttpCall call = render::callOf(source_, *address, needs_.secret);
        call.access = base.empty() ? needs_.access : nullptr; // the demo service is this program's own
        auto answer = render::askHttp(call, stop_, [this](std::int64_t bytes) {
            if (handlers_.progress) {
                handlers_.progress({bytes, 0, 0});
            }
        });
        if (!answer) {
            return std::move(answer.error());
        }
        takeAnswer(std::move(*answer), secret);
        if (handlers_.fetched && source_.isPaged()) {
            auto first = std::make_shared<render::FirstAnswer>();
            first->asked = *address;
            first->answer = answer_.http;
            first->answer.body = body_;
            first->answer.cutOff = answer_.cutOff;
            first->atMs = std::chrono::duration_cast<std::chrono::milliseconds>(
                              std::chrono::system_clock::now().time_since_epoch())
                              .count();
            handlers_.fetched(std::move(first));
        }
        if (auto wrong = render::statusError(answer_.http)) {
            answer_.take(body_, answer_.http.charset, nullptr, {});
            tellAnswer();
            return std::move(*wrong);
        }
        if (body_.empty()) {
            tellAnswer();
            Error error{ErrorCode::Syntax,
                        "the answer is empty",
                        "The service said yes but sent nothing: check the variables of the address.",
                        {}};
            error.place.file = answer_.place;
            return error;
        }
        ReadOptions options = source_.reading;
        if (options.form == SourceForm::Guess) {
            options.form = render::formOf(answer_.http.header("Content-Type"));
        }
        auto reading = readRecordsText(body_, answer_.place, options, answer_.http.charset, stop_, reading_);
        return withBody(std::move(reading), body_);
    }

    /// The answer without its body, and without the secret if the service echoes it.
    void takeAnswer(render::HttpAnswer answer, const std::string& secret) {
        answer_.isCall = true;
        answer_.place = render::masked(answer.address, secret);
        answer_.bytes = static_cast<std::int64_t>(answer.body.size());
        answer_.cutOff = answer.cutOff;
        body_ = secret.size() < 4 ? std::move(answer.body) : render::masked(std::move(answer.body), secret);
        answer.body.clear();
        for (auto& [name, value] : answer.headers) {
            value = render::masked(value, secret);
        }
        answer.address = answer_.place;
        answer_.http = std::move(answer);
    }

    const SourceSpec& source_;
    const SourceNeeds& needs_;
    std::stop_token stop_;
    const SourceHandlers& handlers_;
    ReadHandlers reading_;
    Answer answer_;
    std::string body_;
};

/// By the kind of a finding: what several records have in common.
const char* const kWords[ReadFinding::kKinds] = {"passed over because they are no records",
                                                 "hold a value that does not fit its field's type",
                                                 "have more or fewer cells than the first row",
                                                 "hold bytes that are no text",
                                                 "end before they are closed",
                                                 "have a member twice; the first one stands"};

SourceFinding ofKind(const Reading& reading, ReadFinding::Kind kind) {
    const auto first = std::ranges::find(reading.findings, kind, &ReadFinding::kind);
    SourceFinding finding;
    finding.count = reading.counts[static_cast<std::size_t>(kind)];
    finding.text = first->message;
    finding.advice = first->advice;
    for (const ReadFinding& one : reading.findings) {
        if (one.kind == kind && one.place.record >= 0) {
            finding.records.push_back(one.place.record);
        }
    }
    finding.line = first->place.line;
    finding.field = first->place.field;
    if (finding.count > 1) {
        finding.text = fmt::format("{} records {}; the first: {}", finding.count,
                                   kWords[static_cast<std::size_t>(kind)], first->message);
    }
    if (finding.line > 0) {
        finding.text += fmt::format(" (line {})", finding.line);
    }
    return finding;
}

/// "a text", "an object", "yes or no".
std::string withArticle(FieldType type) {
    const char* article = type == FieldType::Object ? "an " : type == FieldType::Boolean ? "" : "a ";
    return article + std::string(typeName(type));
}

/// A field that all but very few records have: a service that forgot it, or an element that lost a child.
void addLacking(std::vector<SourceFinding>& findings, const std::vector<FieldProfile>& profiles) {
    for (const FieldProfile& profile : profiles) {
        const std::int64_t lacking = profile.records - profile.present;
        const bool isRare = lacking == 1 ? profile.records >= 5 : lacking * 100 <= profile.records;
        if (lacking == 0 || !isRare) {
            continue;
        }
        SourceFinding finding;
        finding.isWarning = false;
        finding.count = lacking;
        finding.text =
            lacking == 1
                ? fmt::format("record {} is the only one without {}", profile.firstWithout + 1, profile.name)
                : fmt::format("{} of {} records have no {}; the first is record {}", lacking, profile.records,
                              profile.name, profile.firstWithout + 1);
        finding.advice = "The design must do without it there.";
        finding.records = {profile.firstWithout};
        finding.field = profile.name;
        findings.push_back(std::move(finding));
    }
}

void addKeyFindings(std::vector<SourceFinding>& findings, const Examination& examination) {
    const auto& found = examination.nearly ? examination.nearly : examination.check;
    if (!found || (examination.keyIsProposed && !examination.nearly)) {
        return;
    }
    const KeyCheck& check = *found;
    const std::string names = fmt::format("{}", fmt::join(check.fields, " + "));
    if (check.duplicates > 0) {
        SourceFinding finding;
        finding.count = check.duplicates;
        finding.text = fmt::format(
            "{} with the same {} as an earlier one; the first: {} at record {}, as at {}",
            check.duplicates == 1 ? "a record" : fmt::format("{} records", check.duplicates), names,
            check.twins.front().key, check.twins.front().record + 1, check.twins.front().first + 1);
        finding.advice =
            "Choose another key, or several fields together; else the later one replaces the earlier.";
        for (const KeyCheck::Twin& twin : check.twins) {
            finding.records.push_back(twin.record);
        }
        finding.field = check.fields.front();
        findings.push_back(std::move(finding));
    }
    if (check.missing > 0) {
        SourceFinding finding;
        finding.count = check.missing;
        finding.text =
            fmt::format("{} no {}; the first is record {}",
                        check.missing == 1 ? "a record has" : fmt::format("{} records have", check.missing),
                        names, check.without.front() + 1);
        finding.advice = "Choose a key that every record has.";
        finding.records = check.without;
        finding.field = check.fields.front();
        findings.push_back(std::move(finding));
    }
}

} // namespace

CallPreview previewCall(const SourceSpec& source, const SourceNeeds& needs) {
    CallPreview preview;
    if (source.isDemo) {
        preview.method = "make";
        preview.address = fmt::format("{} made-up sightings, seed {}", source.demoCount, source.demoSeed);
        return preview;
    }
    if (!source.isService()) {
        preview.method = "read";
        preview.address =
            source.file.empty() ? "the list" : (std::filesystem::path(needs.folder) / source.file).string();
        return preview;
    }
    preview.method = "GET";
    auto address =
        render::expandedAddress(source.address, render::sourceVariables(source), needs.knownDemoAddress);
    preview.address = address ? *address : source.address;
    if (!address) {
        preview.problem = address.error();
    }
    if (const auto made = UriTemplate::parse(source.address)) {
        preview.variables = made->names();
    }
    preview.headers = source.headers;
    preview.headers.emplace_back("Accept", render::acceptOf(source.reading.form));
    const SignSpec& sign = source.sign;
    if (sign.kind != SignSpec::Kind::None) {
        const std::string dots = "••••" + (sign.secret.empty() ? std::string() : " (" + sign.secret + ")");
        preview.headers.emplace_back(sign.kind == SignSpec::Kind::Header ? sign.user : "Authorization",
                                     sign.kind == SignSpec::Kind::Bearer  ? "Bearer " + dots
                                     : sign.kind == SignSpec::Kind::Basic ? "Basic " + sign.user + ":" + dots
                                                                          : dots);
    }
    return preview;
}

Result<SourceRead> readSource(const SourceSpec& source, const SourceNeeds& needs, std::stop_token stop,
                              const SourceHandlers& handlers) {
    return SourceReader(source, needs, std::move(stop), handlers).read();
}

Result<Examination> examine(const RecordTable& records, const std::vector<std::string>& key,
                            std::stop_token stop, const ShareHandler& far) {
    // Of a million: what fields are like takes most of it, unless pairs of them must be tried as a key.
    constexpr double kProfiles = 0.85;
    constexpr double kCandidates = 0.97;
    const auto tell = [&far](double from, double until) {
        return [&far, from, until](double share) {
            if (far) {
                far(from + (until - from) * share);
            }
        };
    };
    Examination examination;
    auto profiles = profileFields(records, stop, tell(0, kProfiles));
    if (!profiles) {
        return std::move(profiles.error());
    }
    examination.profiles = std::move(*profiles);
    auto candidates = keyCandidates(records, examination.profiles, stop, tell(kProfiles, kCandidates));
    if (!candidates) {
        return std::move(candidates.error());
    }
    examination.candidates = std::move(*candidates);
    examination.key = key;
    examination.keyIsProposed = key.empty();
    if (key.empty() && !examination.candidates.empty()) {
        examination.key = examination.candidates.front().fields;
    }
    if (!examination.key.empty()) {
        auto check = checkKey(records, examination.key, stop);
        if (check) {
            examination.check = std::move(*check);
        } else if (check.error().code == ErrorCode::Cancelled) {
            return std::move(check.error());
        }
    }
    if (const auto broken = key.empty() ? brokenKey(examination.profiles) : std::nullopt) {
        auto check = checkKey(records, {*broken}, stop);
        if (check && !check->isUnique()) {
            examination.nearly = std::move(*check);
        }
    }
    return examination;
}

std::vector<SourceFinding> sourceFindings(const Reading& reading, const Answer& answer,
                                          const Examination* examination, bool isPaged) {
    std::vector<SourceFinding> findings;
    if (const PageHints hints = isPaged ? PageHints() : pageHints(answer); hints.style) {
        SourceFinding finding;
        finding.isWarning = false;
        finding.text = fmt::format("this seems to be one page of several: {}", hints.why);
        finding.advice = "Read it in pages to get the rest.";
        finding.mend = SourceFinding::Mend::ReadInPages;
        findings.push_back(std::move(finding));
    }
    if (!answer.cutOff.empty()) {
        SourceFinding finding;
        finding.text = "the answer is not whole: " + answer.cutOff;
        finding.advice = "Ask again; if it stays, the service promises more than it sends.";
        findings.push_back(std::move(finding));
    }
    for (std::size_t i = 0; i < ReadFinding::kKinds; ++i) {
        const auto kind = static_cast<ReadFinding::Kind>(i);
        const auto first = std::ranges::find(reading.findings, kind, &ReadFinding::kind);
        if (first != reading.findings.end()) {
            findings.push_back(ofKind(reading, kind));
        }
    }
    for (const Widening& widening : reading.widenings) {
        SourceFinding finding;
        finding.isWarning = false;
        finding.text = fmt::format("{} was {} until record {} brought \"{}\"; it is {} now", widening.field,
                                   withArticle(widening.from), widening.record + 1, widening.value,
                                   withArticle(widening.to));
        finding.advice = "Choose its type to keep it as it was: what does not fit is told then.";
        finding.records = {widening.record};
        finding.field = widening.field;
        findings.push_back(std::move(finding));
    }
    if (examination == nullptr) {
        return findings;
    }
    for (const FieldProfile& profile : examination->profiles) {
        if (profile.doubleDecoded > 0) {
            SourceFinding finding;
            finding.count = profile.doubleDecoded;
            finding.text =
                fmt::format("{} of {} texts in {} look as if they were decoded twice, as \"Ã©\" for \"é\"",
                            profile.doubleDecoded, profile.present, profile.name);
            const bool byCharset = !reading.used.charset.empty() && !isUtf8(reading.used.charset);
            finding.mend =
                byCharset ? SourceFinding::Mend::ReadAsUtf8 : SourceFinding::Mend::UndoDoubleDecoding;
            finding.advice = byCharset ? "Read it as UTF-8." : "Decode them back.";
            finding.records = {profile.firstDoubleDecoded};
            finding.field = profile.name;
            findings.push_back(std::move(finding));
        }
    }
    addKeyFindings(findings, *examination);
    addLacking(findings, examination->profiles);
    return findings;
}

} // namespace scorrere::workbench
