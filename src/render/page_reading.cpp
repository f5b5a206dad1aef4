// SPDX-License-Identifier: Apache-2.0
#include "render/page_reading.h"

#include "engine/record/field_profile.h"
#include "engine/record/json_outline.h"
#include "engine/record/json_path.h"
#include "engine/record/record_json.h"
#include "render/source_call.h"

#include <QDateTime>
#include <QLocale>
#include <charconv>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

constexpr std::int64_t kMostWaitMs = std::int64_t{24} * 3600 * 1000;

std::string resolved(const std::string& base, const std::string& address) {
    return QUrl(QString::fromStdString(base))
        .resolved(QUrl(QString::fromStdString(address)))
        .toString(QUrl::FullyEncoded)
        .toStdString();
}

/// What the first node a path selects says, texts without their quotes; empty for null, or none.
std::string textAt(const std::string& path, const std::string& body, const std::stop_token& stop) {
    if (path.empty()) {
        return {};
    }
    const auto parsed = JsonPath::parse(path);
    const auto found = parsed ? parsed->select(body, stop) : Result<std::vector<JsonMatch>>(Error{});
    if (!found || found->empty() || found->front().json == "null") {
        return {};
    }
    const std::string& json = found->front().json;
    return json.starts_with('"') ? unescapedJson(json) : json;
}

std::optional<std::int64_t> wholeIn(const std::string& text) {
    std::int64_t value = 0;
    const auto [end, failed] = std::from_chars(text.data(), text.data() + text.size(), value);
    return failed == std::errc() && end == text.data() + text.size() && value >= 0 ? std::optional(value)
                                                                                   : std::nullopt;
}

} // namespace

std::string linkTarget(const HttpAnswer& answer, const std::string& relation) {
    const QString header = QString::fromStdString(answer.header("Link"));
    for (qsizetype at = header.indexOf(QLatin1Char('<')); at >= 0;) {
        const qsizetype end = header.indexOf(QLatin1Char('>'), at);
        if (end < 0) {
            break;
        }
        // The parameters reach to the next link; quoted texts may hold commas.
        qsizetype stop = end + 1;
        for (bool quoted = false; stop < header.size() && (quoted || header[stop] != QLatin1Char(','));
             ++stop) {
            quoted = quoted != (header[stop] == QLatin1Char('"'));
        }
        const QStringList parameters = header.mid(end + 1, stop - end - 1).split(QLatin1Char(';'));
        for (const QString& parameter : parameters) {
            const QString name = parameter.section(QLatin1Char('='), 0, 0).trimmed().toLower();
            QString value = parameter.section(QLatin1Char('='), 1).trimmed();
            value.remove(QLatin1Char('"'));
            if (name == QLatin1String("rel") &&
                value.toLower().split(QLatin1Char(' ')).contains(QString::fromStdString(relation))) {
                return resolved(answer.address, header.mid(at + 1, end - at - 1).toStdString());
            }
        }
        at = header.indexOf(QLatin1Char('<'), stop);
    }
    return {};
}

std::int64_t retryAfterMs(const HttpAnswer& answer, std::int64_t nowMs) {
    const std::string header = answer.header("Retry-After");
    if (const auto seconds = wholeIn(header)) {
        return std::min(*seconds, kMostWaitMs / 1000) * 1000;
    }
    QString date = QString::fromStdString(header); // RFC 9110 writes the zone as GMT
    const QDateTime at =
        QDateTime::fromString(date.replace(QLatin1String("GMT"), QLatin1String("+0000")), Qt::RFC2822Date);
    return at.isValid() ? std::clamp<std::int64_t>(at.toMSecsSinceEpoch() - nowMs, 0, kMostWaitMs) : 0;
}

std::vector<PageRecord> keyedRecords(RecordTable records, const std::vector<std::string>& key,
                                     std::int64_t page) {
    std::vector<FieldHandle> handles;
    for (const std::string& name : key) {
        if (const auto handle = records.find(name)) {
            handles.push_back(*handle);
        }
    }
    const bool hasKey = !key.empty() && handles.size() == key.size();
    const auto table = std::make_shared<const RecordTable>(std::move(records));
    std::vector<PageRecord> keyed;
    keyed.reserve(static_cast<std::size_t>(table->size()));
    for (std::int64_t row = 0; row < table->size(); ++row) {
        auto known = hasKey ? keyOf(*table, row, handles) : std::nullopt;
        keyed.push_back({known ? std::move(*known) : fmt::format("\x1f{}.{}", page, row),
                         contentHash(*table, row), table, row});
    }
    return keyed;
}

Result<PageAnswer> readPage(const SourceSpec& source, const HttpAnswer& answer,
                            const std::vector<Field>& fields, std::int64_t page, std::stop_token stop) {
    ReadOptions options = source.reading;
    if (options.form == SourceForm::Guess) {
        options.form = formOf(answer.header("Content-Type"));
    }
    PageAnswer made;
    made.bytes = static_cast<std::int64_t>(answer.body.size());
    made.times = {answer.connectMs, answer.waitMs, answer.transferMs};
    auto reading = readRecordsText(answer.body, answer.address, options, answer.charset, stop);
    if (!reading) {
        return std::move(reading.error());
    }
    const bool isJson = reading->used.form == SourceForm::Json;
    made.records = keyedRecords(conformed(reading->records, fields), source.key, page);
    const PageSpec& pages = source.pages;
    if (isJson && !pages.total.empty()) {
        made.total = wholeIn(textAt(pages.total, answer.body, stop));
    } else if (pages.total.empty()) {
        made.total = wholeIn(answer.header("X-Total-Count"));
    }
    if (made.total && *made.total > kMostRecords) {
        Error error{ErrorCode::TooLarge,
                    fmt::format("the service says that there are {} records; {} are believed at most",
                                *made.total, kMostRecords),
                    pages.total.empty() ? "Look at its X-Total-Count header."
                                        : "Is " + pages.total + " the count of all records?",
                    {}};
        error.place.file = answer.address;
        return error;
    }
    if (pages.style == PageStyle::Link) {
        made.next = linkTarget(answer, "next");
        made.previous = linkTarget(answer, "prev");
    } else if (!pages.nextHeader.empty() && pages.style == PageStyle::Cursor) {
        made.next = answer.header(pages.nextHeader);
    } else if (isJson && !isPositional(pages.style)) {
        made.next = textAt(pages.next, answer.body, stop);
        made.previous = textAt(pages.previous, answer.body, stop);
        if (pages.style == PageStyle::Next) {
            made.next = made.next.empty() ? std::string() : resolved(answer.address, made.next);
            made.previous = made.previous.empty() ? std::string() : resolved(answer.address, made.previous);
        }
    }
    return made;
}

} // namespace scorrere::render
