// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/opener.h"

#include "service/demo_document.h"
#include "service/moths.h"

#include <algorithm>
#include <cctype>
#include <chrono>
#include <filesystem>
#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

Result<Opened> withRecords(CollectionDocument document, const std::stop_token& stop,
                           const ReadProgressHandler& progress) {
    if (document.source.isDemo) {
        auto records =
            service::makeSightings(document.source.demoCount, document.source.demoSeed, stop, progress);
        if (!records) {
            return std::move(records.error());
        }
        return Opened{std::move(document), std::make_shared<const RecordTable>(std::move(*records))};
    }
    const auto path = std::filesystem::path(document.folder()) / document.source.file;
    ReadHandlers handlers;
    handlers.progress = progress;
    auto read = readRecordsFile(path.string(), document.source.reading, stop, handlers);
    if (!read) {
        return std::move(read.error());
    }
    return Opened{std::move(document), std::make_shared<const RecordTable>(std::move(read->records))};
}

std::string jsonText(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\') {
            out += '\\';
        }
        if (static_cast<unsigned char>(c) >= 0x20) {
            out += c;
        }
    }
    return out + '"';
}

/// Whether a field's name can stand in a text pattern: letters, digits and _ of any script, no digit first.
bool isPlainName(const std::string& name) {
    const auto fits = [](char c) {
        const auto byte = static_cast<unsigned char>(c);
        return byte >= 0x80 || std::isalnum(byte) != 0 || c == '_';
    };
    return !name.empty() && std::ranges::all_of(name, fits) &&
           std::isdigit(static_cast<unsigned char>(name[0])) == 0;
}

/// A design for records that came without one: the first text as title, the next fields below it.
std::string plainDocument(const std::string& file, const RecordTable& records) {
    std::string title;
    std::string detail;
    std::string body;
    int details = 0;
    for (const Field& field : records.fields()) {
        const bool text = field.type == FieldType::Text;
        if (!isPlainName(field.name) || field.type >= FieldType::List) {
            continue;
        }
        const std::string part = "{" + field.name + "}";
        if (text && title.empty()) {
            title = part;
        } else if (text && body.empty() && details > 0) {
            body = part;
        } else if (details < 3) {
            detail += fmt::format("{}{{\"text\": {}, \"size\": 12, \"colour\": \"quiet\"}}",
                                  detail.empty() ? "" : ", ", jsonText(field.name + " " + part));
            ++details;
        }
    }
    std::string parts;
    const auto add = [&parts](const std::string& part) { parts += (parts.empty() ? "" : ", ") + part; };
    if (!title.empty()) {
        add(fmt::format("{{\"text\": {}, \"size\": 15, \"weight\": 600, \"lines\": 2}}", jsonText(title)));
    }
    if (!detail.empty()) {
        add(fmt::format("{{\"row\": [{}], \"gap\": 12}}", detail));
    }
    if (!body.empty()) {
        add(fmt::format("{{\"text\": {}, \"size\": 13, \"lines\": 0}}", jsonText(body)));
    }
    if (parts.empty()) {
        add("{\"text\": \"No field of this record can stand in a text\", \"colour\": \"quiet\"}");
    }
    return fmt::format(
        "{{\"scorrere\": 1, \"name\": {}, \"source\": {{\"file\": {}}}, \"items\": {{\"record\": "
        "{{\"column\": [{{\"column\": [{}], \"gap\": 3, \"padding\": [12, 16]}}, {{\"line\": 1}}]}}}}}}",
        jsonText(std::filesystem::path(file).stem().string()),
        jsonText(std::filesystem::path(file).filename().string()), parts);
}

bool looksLikeRecords(const std::string& path) {
    const std::string extension = std::filesystem::path(path).extension().string();
    return extension == ".ndjson" || extension == ".jsonl" ||
           (extension == ".json" && !path.ends_with(".collection.json"));
}

} // namespace

Result<Opened> openCollection(const std::string& path, std::stop_token stop,
                              const ReadProgressHandler& progress) {
    auto document = CollectionDocument::load(path);
    if (document) {
        return withRecords(std::move(*document), stop, progress);
    }
    const bool notACollection = document.error().code != ErrorCode::NotFound && looksLikeRecords(path);
    if (!notACollection) {
        return std::move(document.error());
    }
    ReadHandlers handlers;
    handlers.progress = progress;
    auto read = readRecordsFile(path, {}, stop, handlers);
    if (!read) {
        return std::move(read.error());
    }
    const RecordTable* records = &read->records;
    auto made = CollectionDocument::parse(plainDocument(path, *records), path);
    if (!made) {
        return std::move(made.error());
    }
    made->path.clear(); // nothing was written yet: saving asks where to
    return Opened{std::move(*made), std::make_shared<const RecordTable>(std::move(read->records))};
}

Result<Opened> openDemo(std::int64_t count, std::stop_token stop, const ReadProgressHandler& progress) {
    auto document = CollectionDocument::parse(service::demoDocument(count), "");
    if (!document) {
        return std::move(document.error());
    }
    return withRecords(std::move(*document), stop, progress);
}

template <typename Work>
void Opener::start(Work work) {
    job_.start(
        [this, work](std::stop_token stop, const render::Job::Post& post) {
            auto told = std::chrono::steady_clock::time_point{};
            return work(stop, [&](const ReadProgress& progress) {
                const auto now = std::chrono::steady_clock::now();
                if (now - told > std::chrono::milliseconds(50)) {
                    told = now;
                    post([this, progress] { Q_EMIT progressed(progress); });
                }
            });
        },
        [this](Result<Opened> result) {
            if (result) {
                Q_EMIT opened(std::make_shared<Opened>(std::move(*result)));
            } else {
                Q_EMIT failed(result.error());
            }
        });
}

void Opener::open(const QString& path) {
    start([path = path.toStdString()](std::stop_token stop, const ReadProgressHandler& progress) {
        return openCollection(path, stop, progress);
    });
}

void Opener::openDemo(qint64 count) {
    start([count](std::stop_token stop, const ReadProgressHandler& progress) {
        return workbench::openDemo(count, stop, progress);
    });
}

void Opener::cancel() {
    if (job_.isBusy()) {
        job_.cancel();
        Q_EMIT cancelled();
    }
}

} // namespace scorrere::workbench
