// SPDX-License-Identifier: Apache-2.0
//
// Values are read as any source's are: all that the edits bring is one small JSON text. Segments never change, so a segment
// in which something is set shares all columns but those; what reads columns (rules, sorts, searches) knows nothing of edits.
#include "engine/edit/edited_records.h"

#include "engine/record/field_profile.h"
#include "engine/record/json_outline.h"
#include "engine/record/reading.h"
#include "engine/record/record_builder.h"
#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <iterator>
#include <map>
#include <utility>

namespace scorrere {

namespace {

constexpr std::int64_t kBetweenStops = 4096;

Error editingStopped() {
    return {ErrorCode::Cancelled, "putting the edits in force was stopped", "", {}};
}

/// What edits bring, as records: where each one's value or record stands.
struct Brought {
    std::shared_ptr<const RecordTable> table;
    std::vector<std::int64_t> rows; ///< by edit; -1: it brings nothing
};

Brought broughtBy(const RecordEdits& edits, std::vector<std::string>& refusals) {
    Brought brought{std::make_shared<const RecordTable>(), std::vector<std::int64_t>(edits.size(), -1)};
    std::string array = "[";
    std::int64_t rows = 0;
    for (std::size_t i = 0; i < edits.size(); ++i) {
        const RecordEdit& edit = *edits[i];
        const bool isRecord = edit.kind == RecordEdit::Kind::Insert;
        if (!isRecord && (edit.kind != RecordEdit::Kind::Set || edit.value.empty())) {
            continue;
        }
        refusals[i] = faultOf(edit);
        if (!refusals[i].empty()) {
            continue;
        }
        array += rows > 0 ? ",\n" : "";
        array += isRecord ? edit.value : fmt::format("{{{}: {}}}", quotedJson(edit.field), edit.value);
        brought.rows[i] = rows++;
    }
    array += "]";
    ReadOptions options;
    options.form = SourceForm::Json;
    options.items = "$[*]";
    if (auto reading =
            rows == 0 ? Result<Reading>(Reading()) : readRecordsText(array, "the edits", options, "UTF-8")) {
        brought.table = std::make_shared<const RecordTable>(std::move(reading->records));
    } else {
        for (std::size_t i = 0; i < edits.size(); ++i) {
            if (std::exchange(brought.rows[i], -1) >= 0) {
                refusals[i] = reading.error().message;
            }
        }
    }
    return brought;
}

/// Where the value of a field of a record is to come from, instead of from the source: a row of what was brought, or -1.
using Others = std::map<std::pair<std::uint32_t, std::string>, std::int64_t>;

/// Makes segments anew, column by column.
class Rebuilding {
public:
    Rebuilding(const RecordTable& source, std::shared_ptr<const RecordTable> brought, std::int64_t own)
        : source_(source), brought_(std::move(brought)), own_(own), fields_(source.fields()) {
        for (const Field& field : brought_->fields()) {
            const auto known = std::ranges::find(fields_, field.name, &Field::name);
            if (known == fields_.end()) {
                fields_.push_back(field);
            } else {
                known->type = widened(known->type, field.type);
            }
        }
    }
    const std::vector<Field>& fields() const { return fields_; }
    bool isWider(std::size_t field) const {
        return field < source_.fields().size() && fields_[field].type != source_.fields()[field].type;
    }
    void set(std::uint32_t record, const std::string& field, std::int64_t row) {
        others_[{record, field}] = row;
    }
    void append(std::int64_t row) { appended_.push_back(row); }
    std::int64_t appended() const { return std::ssize(appended_); }

    /// Nothing: it was stopped.
    std::optional<std::vector<std::shared_ptr<const Segment>>> segments(const std::stop_token& stop) {
        for (const auto& [where, row] : others_) {
            byField_[where.second][where.first] = row;
        }
        const std::int64_t rows = own_ + appended();
        std::vector<std::shared_ptr<const Segment>> made;
        for (std::int64_t first = 0; first < rows; first += RecordTable::kSegment) {
            if (stop.stop_requested()) {
                return std::nullopt;
            }
            made.push_back(segmentAt(first, std::min(first + RecordTable::kSegment, rows)));
        }
        return made;
    }

private:
    std::shared_ptr<const Segment> segmentAt(std::int64_t first, std::int64_t end) {
        const auto index = static_cast<std::size_t>(first / RecordTable::kSegment);
        const auto old = index < source_.segments().size() ? source_.segments()[index] : nullptr;
        const bool isLonger = old == nullptr || static_cast<std::int64_t>(old->size) < end - first;
        std::shared_ptr<Segment> made;
        for (std::size_t field = 0; field < fields_.size(); ++field) {
            const bool isThere = old != nullptr && field < old->columns.size();
            if (!isLonger && !isTouched(field, first, end) && !(isThere && isWider(field))) {
                continue;
            }
            if (!made) {
                made = old != nullptr ? std::make_shared<Segment>(*old) : std::make_shared<Segment>();
                made->size = static_cast<std::size_t>(end - first);
            }
            while (made->columns.size() < field) { // those between are missing in all of it
                made->columns.push_back(column(made->columns.size(), first, end));
            }
            auto column = this->column(field, first, end);
            if (field < made->columns.size()) {
                made->columns[field] = std::move(column);
            } else {
                made->columns.push_back(std::move(column));
            }
        }
        return made ? std::shared_ptr<const Segment>(std::move(made)) : old;
    }

    bool isTouched(std::size_t field, std::int64_t first, std::int64_t end) const {
        const auto of = byField_.find(fields_[field].name);
        if (of == byField_.end()) {
            return false;
        }
        const auto next = of->second.lower_bound(static_cast<std::uint32_t>(first));
        return next != of->second.end() && next->first < end;
    }

    std::shared_ptr<const Column> column(std::size_t field, std::int64_t first, std::int64_t end) const {
        const Field& as = fields_[field];
        FieldChoice choice;
        choice.name = as.name;
        choice.type = as.type;
        RecordBuilder builder({choice});
        const int to = builder.fieldNamed(as.name);
        const auto from = brought_->find(as.name);
        const auto others = byField_.find(as.name);
        const FieldHandle own{field < source_.fields().size() ? static_cast<int>(field) : -1};
        const auto copy = [&](const RecordTable& table, std::int64_t record, FieldHandle handle) {
            if (record >= 0 && handle.index >= 0 && table.has(record, handle)) {
                copyValue(builder, to, table, record, handle, as.type);
            }
        };
        for (std::int64_t row = first; row < end; ++row) {
            const std::map<std::uint32_t, std::int64_t> none;
            const auto& set = others == byField_.end() ? none : others->second;
            if (const auto other = set.find(static_cast<std::uint32_t>(row)); other != set.end()) {
                copy(*brought_, other->second, from.value_or(FieldHandle{}));
            } else if (row < own_) {
                copy(source_, row, own);
            } else {
                copy(*brought_, appended_[static_cast<std::size_t>(row - own_)],
                     from.value_or(FieldHandle{}));
            }
            builder.endRecord();
        }
        const RecordTable made = builder.finish();
        return made.segments().empty() ? std::make_shared<const Column>()
                                       : made.segments().front()->columns.front();
    }

    const RecordTable& source_;
    std::shared_ptr<const RecordTable> brought_;
    std::int64_t own_; ///< rows of the source's segments
    std::vector<Field> fields_;
    Others others_; ///< by row
    std::vector<std::int64_t> appended_;
    std::map<std::string, std::map<std::uint32_t, std::int64_t>> byField_;
};

} // namespace

RecordKeys::RecordKeys(std::shared_ptr<const RecordTable> records, const std::vector<std::string>& fields)
    : records_(std::move(records)) {
    for (const std::string& name : fields) {
        if (const auto field = records_->find(name)) {
            fields_.push_back(*field);
        }
    }
    if (fields.empty() || fields_.size() != fields.size()) {
        fields_.clear();
        if (const auto likely = likelyKey(*records_)) {
            fields_.push_back(*likely);
        }
    }
}

std::vector<std::string> RecordKeys::fields() const {
    std::vector<std::string> names;
    std::ranges::transform(fields_, std::back_inserter(names),
                           [this](FieldHandle field) { return records_->field(field).name; });
    return names;
}

std::string RecordKeys::ofIn(const RecordTable& records, std::int64_t record) const {
    return fields_.empty() ? fmt::format("{}", record + 1) : keyOf(records, record, fields_).value_or("");
}

std::int64_t RecordKeys::find(const std::string& key, std::int64_t hint, const std::stop_token& stop) {
    if (key.empty()) {
        return -1;
    }
    if (fields_.empty()) {
        const auto number = parseInteger(key);
        return number && *number >= 1 && *number <= records_->size() ? *number - 1 : -1;
    }
    if (hint >= 0 && hint < records_->size() && of(hint) == key) {
        return hint;
    }
    if (!all_) {
        std::unordered_map<std::string, std::uint32_t> all;
        all.reserve(static_cast<std::size_t>(records_->size()));
        for (std::int64_t record = 0; record < records_->size(); ++record) {
            if (record % kBetweenStops == 0 && stop.stop_requested()) {
                return -1;
            }
            all.emplace(of(record), static_cast<std::uint32_t>(record));
        }
        all_ = std::move(all);
    }
    const auto found = all_->find(key);
    return found == all_->end() ? -1 : static_cast<std::int64_t>(found->second);
}

Result<EditedRecords> withEdits(RecordKeys& keys, const RecordEdits& edits, const std::stop_token& stop) {
    const RecordTable& source = *keys.records();
    EditedRecords made;
    made.source = keys.records();
    made.edits = edits;
    made.refusals.resize(edits.size());
    made.numbers.assign(edits.size(), -1);
    made.given = RecordOrder(source.size());
    std::int64_t own = 0;
    for (const auto& segment : source.segments()) {
        own += static_cast<std::int64_t>(segment->size);
    }
    const Brought brought = broughtBy(edits, made.refusals);
    // Where the key's fields stand in what was brought.
    const RecordTable broughtAsSource = conformed(*brought.table, source.fields());
    Rebuilding rebuilding(source, brought.table, own);
    std::unordered_map<std::string, std::int64_t> inserted;
    const auto find = [&](const std::string& key, std::int64_t hint) {
        const auto came = inserted.find(key);
        return came != inserted.end() ? came->second : keys.find(key, hint, stop);
    };
    // The place in front of a record; the end where none is named. -1: it is not there.
    const auto placeBefore = [&](const std::string& key) {
        return key.empty() ? made.given.size() : made.given.placeOf(find(key, -1));
    };
    for (std::size_t i = 0; i < edits.size(); ++i) {
        if (stop.stop_requested()) {
            return editingStopped();
        }
        const RecordEdit& edit = *edits[i];
        std::string& refusal = made.refusals[i];
        if (!refusal.empty()) {
            continue;
        }
        if (edit.kind == RecordEdit::Kind::Insert) {
            const std::int64_t row = brought.rows[i];
            const std::int64_t record = source.size() + rebuilding.appended();
            const std::string key =
                keys.fields().empty() ? fmt::format("{}", record + 1) : keys.ofIn(broughtAsSource, row);
            const std::int64_t place = placeBefore(edit.before);
            if (key.empty()) {
                refusal =
                    fmt::format("it has no {}, by which records are known", fmt::join(keys.fields(), ", "));
            } else if (find(key, -1) >= 0) {
                refusal = fmt::format("there is a record {} already", key);
            } else if (place < 0) {
                refusal = fmt::format("there is no record {} in front of which it could stand", edit.before);
            } else {
                rebuilding.append(row);
                inserted.emplace(key, record);
                made.inserted.push_back(key);
                made.given.insert(place, record, 1);
                made.numbers[i] = record;
                made.isGivenAsSource = false;
            }
            continue;
        }
        const std::int64_t record = find(edit.key, edit.hint);
        const std::int64_t place = record < 0 ? -1 : made.given.placeOf(record);
        if (place < 0) {
            refusal = record < 0 ? fmt::format("no record is called {}", edit.key)
                                 : fmt::format("{} was removed before", edit.key);
            continue;
        }
        made.numbers[i] = record;
        if (edit.kind == RecordEdit::Kind::Set) {
            if (source.isMadeUp(record)) {
                refusal = "it is made up of others; those can be edited";
                continue;
            }
            const std::int64_t row = record < source.size() ? record : own + record - source.size();
            rebuilding.set(static_cast<std::uint32_t>(row), edit.field, brought.rows[i]);
            if (record < source.size()) {
                made.touched.push_back(static_cast<std::uint32_t>(record));
            }
            continue;
        }
        made.isGivenAsSource = false;
        if (edit.kind == RecordEdit::Kind::Remove) {
            made.given.erase(place, 1);
            continue;
        }
        const std::int64_t to = edit.before == edit.key ? place : placeBefore(edit.before);
        if (to < 0) {
            refusal = fmt::format("there is no record {} in front of which it could stand", edit.before);
            continue;
        }
        made.given.erase(place, 1);
        made.given.insert(to > place ? to - 1 : to, record, 1);
    }
    std::ranges::sort(made.touched);
    made.touched.erase(std::unique(made.touched.begin(), made.touched.end()), made.touched.end());
    auto segments = rebuilding.segments(stop);
    if (!segments) {
        return editingStopped();
    }
    made.records =
        std::make_shared<const RecordTable>(source.withSegments(rebuilding.fields(), std::move(*segments)));
    return made;
}

RecordOrder inNumbersOf(const RecordOrder& order, const EditedRecords* before, const EditedRecords* after) {
    if (before == nullptr) {
        return order;
    }
    const std::int64_t own = before->source->size();
    std::vector<std::uint32_t> now(static_cast<std::size_t>(before->records->size() - own),
                                   RankedRecords::kNowhere);
    bool isSame = true;
    for (std::size_t i = 0; i < before->edits.size(); ++i) {
        if (before->edits[i]->kind != RecordEdit::Kind::Insert || before->numbers[i] < 0) {
            continue;
        }
        for (std::size_t j = 0; after != nullptr && j < after->edits.size(); ++j) {
            if (after->numbers[j] >= 0 && *after->edits[j] == *before->edits[i]) {
                now[static_cast<std::size_t>(before->numbers[i] - own)] =
                    static_cast<std::uint32_t>(after->numbers[j]);
                break;
            }
        }
        isSame = isSame && now[static_cast<std::size_t>(before->numbers[i] - own)] == before->numbers[i];
    }
    if (isSame) {
        return order;
    }
    auto ranked = std::make_shared<RankedRecords>();
    order.appendTo(ranked->records);
    for (std::uint32_t& record : ranked->records) {
        record = record < own ? record : now[static_cast<std::size_t>(record - own)];
    }
    return RecordOrder(std::move(ranked));
}

std::vector<std::uint32_t> keptOf(std::vector<std::uint32_t> ranked, const RecordOrder& given,
                                  std::int64_t of, bool isSorted) {
    std::vector<std::uint32_t> there;
    given.appendTo(there);
    std::vector<bool> is(static_cast<std::size_t>(of));
    for (const std::uint32_t record : isSorted ? there : ranked) {
        is[record] = true;
    }
    std::vector<std::uint32_t>& kept = isSorted ? ranked : there;
    std::erase_if(kept, [&](std::uint32_t record) { return !is[record]; });
    return std::move(kept);
}

std::vector<std::uint32_t> touchedBetween(const EditedRecords* before, const EditedRecords* after) {
    const std::vector<std::uint32_t> none;
    std::vector<std::uint32_t> touched;
    std::ranges::set_union(before != nullptr ? before->touched : none,
                           after != nullptr ? after->touched : none, std::back_inserter(touched));
    return touched;
}

} // namespace scorrere
