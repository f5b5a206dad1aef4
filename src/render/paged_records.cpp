// SPDX-License-Identifier: Apache-2.0
#include "render/paged_records.h"

#include "engine/record/record_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace scorrere::render {

namespace {

constexpr int kStreamedAtOnce = 64;          ///< live changes a frame takes over
constexpr std::size_t kMostWaiting = 10'000; ///< of them, while nobody takes any over

using Tables = std::map<const RecordTable*, std::shared_ptr<const RecordTable>>;

/// The fields of both, each of the wider type.
std::vector<Field> widest(std::vector<Field> fields, const std::vector<Field>& more) {
    for (const Field& field : more) {
        const auto known = std::ranges::find(fields, field.name, &Field::name);
        if (known == fields.end()) {
            fields.push_back(field);
        } else {
            known->type = widened(known->type, field.type);
        }
    }
    return fields;
}

} // namespace

PagedRecords::PagedRecords(const PagingSpec& paging, const WireSetup& setup)
    : paging_(paging), pager_(paging.rules(setup.source.pages.style, setup.source.pages.size)),
      fields_(setup.fields), weather_(setup.weather), hasStream_(!setup.source.stream.address.empty()),
      key_(setup.source.key), wire_(std::make_unique<PageWire>(setup)) {
    connect(wire_.get(), &PageWire::answered, this,
            [this](qint64 request, const std::shared_ptr<PageAnswer>& answer) {
                came_.push_back({request, answer, {}});
                Q_EMIT wanted();
            });
    connect(wire_.get(), &PageWire::failed, this, [this](qint64 request, const PageFailure& failure) {
        came_.push_back({request, nullptr, failure});
        Q_EMIT wanted();
    });
    connect(wire_.get(), &PageWire::streamCame, this,
            [this](const std::shared_ptr<std::vector<StreamChange>>& changes) {
                std::ranges::move(*changes, std::back_inserter(streamed_));
                if (streamed_.size() > kMostWaiting) {
                    streamLost_ += std::ssize(streamed_);
                    streamed_.clear();
                }
                Q_EMIT wanted();
            });
    connect(wire_.get(), &PageWire::streamLost, this, [this](qint64 changes) {
        streamLost_ += changes;
        Q_EMIT wanted();
    });
    connect(wire_.get(), &PageWire::streamMade, this,
            [this](const std::shared_ptr<std::vector<StreamResult>>& results) {
                making_ = false;
                std::ranges::move(*results, std::back_inserter(made_));
                Q_EMIT wanted();
            });
    connect(wire_.get(), &PageWire::streamStateChanged, this, [this](StreamState state) {
        streamState_ = state;
        Q_EMIT streamStateChanged();
    });
    connect(wire_.get(), &PageWire::noticed, this, &PagedRecords::noticed);
    connect(wire_.get(), &PageWire::sent, this, &PagedRecords::takeSent);
}

PagedRecords::~PagedRecords() = default;

void PagedRecords::setPaging(const PagingSpec& paging) {
    const bool live = paging_.streams;
    paging_ = paging;
    pager_.setRules(paging.rules(pager_.rules().style, pager_.rules().size));
    if (live != paging.streams && pager_.isRunning() && hasStream_ && !steadyMs_) {
        paging.streams ? wire_->openStream() : wire_->closeStream();
    }
    carryOut();
}

void PagedRecords::setWeather(const Weather& weather) {
    weather_ = weather;
    wire_->setWeather(weather);
}

void PagedRecords::start(std::int64_t nowMs) {
    pager_.start(nowMs);
    refreshedMs_ = nowMs;
    if (hasStream_ && paging_.streams && !steadyMs_) {
        wire_->openStream();
    }
    carryOut();
}

void PagedRecords::stop() {
    pager_.stop();
    wire_->closeStream();
    came_.clear();
    carryOut();
}

void PagedRecords::setVariables(std::int64_t nowMs,
                                const std::vector<std::pair<std::string, std::string>>& variables) {
    wire_->setVariables(variables);
    pager_.requery(nowMs);
    carryOut();
}

void PagedRecords::openAnew(std::int64_t nowMs) {
    pager_.requery(nowMs);
    carryOut();
}

void PagedRecords::refresh(std::int64_t nowMs) {
    refreshedMs_ = nowMs;
    pager_.refresh(nowMs, paging_.stand);
    carryOut();
}

void PagedRecords::retry(std::int64_t nowMs) {
    pager_.retry(nowMs);
    carryOut();
}

void PagedRecords::showWaiting() {
    pager_.showWaiting();
    carryOut(true);
}

void PagedRecords::setEdits(const RecordEdits& edits) {
    if (!areSame(wanted_, edits)) {
        wanted_ = edits;
        makeEdits();
    }
}

void PagedRecords::makeEdits() {
    editing_.start(
        [edits = wanted_, key = key_, fields = fields_](std::stop_token, const Job::Post&) {
            return std::make_shared<const PageEdits>(edits, key, fields);
        },
        [this](const std::shared_ptr<const PageEdits>& made) {
            pager_.setEdits(made);
            carryOut(true);
            Q_EMIT editsChanged();
            Q_EMIT wanted();
        });
}

std::optional<std::pair<std::string, std::string>> PagedRecords::shownOf(const RecordEdit& edit) const {
    std::string key = edit.key;
    if (edit.kind == RecordEdit::Kind::Insert) {
        const auto made = PageEdits({std::make_shared<const RecordEdit>(edit)}, key_, fields_).inserted();
        key = made.empty() ? std::string() : made.front().key;
    }
    const PageRecord* shown = pager_.shown(key);
    return shown == nullptr ? std::nullopt
                            : std::optional(std::pair(key, recordJson(*shown->table, shown->row)));
}

Outcome PagedRecords::send(const std::shared_ptr<const RecordEdit>& edit, const SendSpec& spec) {
    auto shown = shownOf(*edit);
    if (!shown && edit->kind == RecordEdit::Kind::Insert) {
        shown = std::pair(std::string(), edit->value);
    }
    const auto [key, record] = shown.value_or(std::pair(edit->key, std::string("{}")));
    auto request = requestOf(spec, *edit, key, record);
    if (!request) {
        return std::move(request.error());
    }
    sending_[++lastSent_] = edit;
    wire_->send(lastSent_, std::move(*request));
    return done();
}

void PagedRecords::takeSent(qint64 number, const SendOutcome& outcome) {
    const auto found = sending_.find(number);
    const auto edit = found->second;
    sending_.erase(found);
    if (outcome.kind == SendOutcome::Kind::Agreed) {
        pager_.agree(PageEdits({edit}, key_, fields_), *edit);
        carryOut(true);
    }
    Q_EMIT sent(edit, outcome);
    Q_EMIT wanted();
}

void PagedRecords::tick(std::int64_t nowMs, const SeenRange& seen) {
    if (pager_.isLanding()) { // a long page fills a few frames alone
        pager_.look(nowMs, seen);
        return carryOut();
    }
    takeCame(nowMs);
    takeStreamed();
    if (streamLost_ > 0 && pager_.isRunning()) { // what they said is found by asking
        Q_EMIT noticed({ErrorCode::TooLarge,
                        fmt::format("{} live changes came faster than they can be taken over",
                                    std::exchange(streamLost_, 0)),
                        "The records are read anew instead.",
                        {}});
        refreshedMs_ = nowMs;
        pager_.refresh(nowMs, RefreshStand::WithReader);
    }
    if (paging_.everyS > 0 && pager_.isRunning() && nowMs >= refreshedMs_ + paging_.everyS * 1000) {
        refreshedMs_ = nowMs;
        pager_.refresh(nowMs, paging_.stand);
    }
    pager_.look(nowMs, seen);
    carryOut();
}

bool PagedRecords::isDue(std::int64_t request, std::int64_t nowMs) {
    const RequestRecord* record = steadyMs_ ? pager_.request(request) : nullptr;
    return record == nullptr || record->askedMs + *steadyMs_ <= nowMs;
}

bool PagedRecords::awaits(std::int64_t nowMs) {
    return steadyMs_ && (widening_.isBusy() || editing_.isBusy() ||
                         std::ranges::any_of(pager_.inFlight(), [&](const auto& flight) {
                             return isDue(flight.second, nowMs) &&
                                    std::ranges::find(came_, flight.second, &Came::request) == came_.end();
                         }));
}

/// Failures all, answers one at a time: a frame has room for one page.
void PagedRecords::takeCame(std::int64_t nowMs) {
    if (steadyMs_) { // in the order they were asked for, whichever came first
        std::ranges::stable_sort(came_, {}, &Came::request);
    }
    while (!came_.empty() && !widening_.isBusy() && isDue(came_.front().request, nowMs)) {
        const std::shared_ptr<PageAnswer> answer = came_.front().answer;
        if (answer == nullptr) {
            pager_.failed(nowMs, came_.front().request, came_.front().failure);
            came_.pop_front();
            continue;
        }
        if (!answer->records.empty() && !fits(*answer)) {
            return widen();
        }
        if (const RequestRecord* record = pager_.request(came_.front().request);
            record && !answer->unchanged) {
            arrived_.push_back(record->page);
        }
        const bool isRefresh = pager_.isRefreshing();
        pager_.answered(nowMs, came_.front().request, std::move(*answer));
        came_.pop_front();
        carryOut(isRefresh && !pager_.isRefreshing());
        return;
    }
}

bool PagedRecords::fits(const PageAnswer& answer) {
    const std::vector<Field>& has = answer.records.front().table->fields();
    if (fields_.empty()) { // the first that came at all
        fields_ = has;
        fieldsChanged_ = true;
        wire_->setFields(fields_);
        if (!wanted_.empty()) {
            makeEdits(); // by their types
        }
        return true;
    }
    if (!conforms(*answer.records.front().table, fields_)) {
        return false;
    }
    if (has.size() > fields_.size()) {
        fields_ = has; // more at the end disturbs nobody
        wire_->setFields(fields_);
    }
    return true;
}

/// Something brought a value that is too wide for its field: every table is made anew, off to the side, and
/// what came waits meanwhile.
void PagedRecords::widen() {
    std::vector<Field> wide = fields_;
    Tables tables;
    pager_.forEachTable(
        [&tables](const std::shared_ptr<const RecordTable>& table) { tables.emplace(table.get(), table); });
    forEachWaiting([&](PageRecord& record) {
        if (tables.emplace(record.table.get(), record.table).second) {
            wide = widest(std::move(wide), record.table->fields());
        }
    });
    widening_.start(
        [tables, wide](std::stop_token, const Job::Post&) {
            Tables made;
            for (const auto& [old, found] : tables) {
                made.emplace(old, std::make_shared<const RecordTable>(conformed(*found, wide)));
            }
            return made;
        },
        [this, tables, wide](const Tables& made) {
            fields_ = wide;
            fieldsChanged_ = true;
            wire_->setFields(fields_);
            pager_.replaceTables(made);
            carryOut();
            if (!wanted_.empty()) {
                makeEdits();
            }
            forEachWaiting([&made](PageRecord& record) {
                if (const auto now = made.find(record.table.get()); now != made.end()) {
                    record.table = now->second;
                }
            });
            Q_EMIT wanted();
        });
}

/// Every record that came and was not taken over yet.
template <typename See>
void PagedRecords::forEachWaiting(See see) {
    for (const Came& came : came_) {
        for (std::size_t i = 0; came.answer && i < came.answer->records.size(); ++i) {
            see(came.answer->records[i]);
        }
    }
    for (StreamResult& result : made_) {
        if (!result.isRemoval) {
            see(result.record);
        }
    }
}

void PagedRecords::takeStreamed() {
    for (int i = 0; i < kStreamedAtOnce && !made_.empty() && !widening_.isBusy(); ++i) {
        if (!made_.front().isRemoval && !conforms(*made_.front().record.table, fields_)) {
            return widen();
        }
        StreamResult result = std::move(made_.front());
        made_.pop_front();
        if (result.isRemoval) {
            pager_.streamRemoved(result.key);
        } else if (result.isPut) {
            pager_.streamAdded({std::move(result.record)});
        } else {
            pager_.streamChanged(std::move(result.record));
        }
    }
    carryOut(true);
    if (!waitsToMake() || !made_.empty() || widening_.isBusy()) {
        return; // a patch is for the record as the last one left it
    }
    for (StreamChange& change : streamed_) {
        if (change.kind == StreamChange::Kind::Patch) {
            if (const PageRecord* found = pager_.find(change.key)) {
                change.base = *found; // as the service has it
            }
        }
    }
    making_ = true;
    wire_->makeStreamed(std::exchange(streamed_, {}));
}

void PagedRecords::carryOut(bool isSeen) {
    for (PageCommand& command : pager_.takeCommands()) {
        switch (command.kind) {
        case PageCommand::Kind::Ask:
            wire_->ask(command);
            break;
        case PageCommand::Kind::Cancel:
            wire_->cancel(command.request);
            break;
        case PageCommand::Kind::Edit:
        case PageCommand::Kind::StandAt:
            edits_.push_back({std::move(command), isSeen});
            break;
        }
    }
}

} // namespace scorrere::render

#include "moc_paged_records.cpp"
