// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/pager.h"
#include "render/job.h"
#include "render/page_wire.h"

#include <QObject>
#include <deque>
#include <map>
#include <utility>

namespace scorrere::render {

/// The records of a collection that is read in pages: a pager, the wire it asks by, and what came and was not
/// taken over yet. Taking over happens a page at a time, in frames.
///
/// Units       ms on the run's clock.
/// Ownership   Owns the pager and the wire.
/// Threads     The interface thread.
class PagedRecords : public QObject {
    Q_OBJECT
public:
    PagedRecords(const PagingSpec& paging, const WireSetup& setup);
    ~PagedRecords() override;

    Pager& pager() { return pager_; }
    const Pager& pager() const { return pager_; }
    /// What the tables that are here have in common; grows when a page brings more.
    const std::vector<Field>& fields() const { return fields_; }
    const PagingSpec& paging() const { return paging_; }
    void setPaging(const PagingSpec& paging);
    void setWeather(const Weather& weather);
    const Weather& weather() const { return weather_; }
    /// For runs on a virtual clock: an answer is taken over exactly that long after it was asked for on the
    /// run's clock, however long it really took, and nothing comes live; so the same answers give the same
    /// run. Before start().
    void setSteady(std::int64_t latencyMs) { steadyMs_ = latencyMs; }
    /// Such a run must wait: something due at `nowMs` is not here yet.
    bool awaits(std::int64_t nowMs);
    StreamState streamState() const { return streamState_; }
    bool hasStream() const { return hasStream_; }

    void start(std::int64_t nowMs);
    void stop();
    /// Other variables of the address: another query.
    void setVariables(std::int64_t nowMs, const std::vector<std::pair<std::string, std::string>>& variables);
    /// Another record is where it opens: as another query.
    void openAnew(std::int64_t nowMs);
    void refresh(std::int64_t nowMs);
    void retry(std::int64_t nowMs);
    void showWaiting();

    /// Lays edits over what is here and what comes, once a worker made them ready; editsChanged() tells.
    void setEdits(const RecordEdits& edits);
    /// Those in force, and which of them are not and why.
    const PageEdits& edits() const { return pager_.edits(); }
    bool isEditing() const { return editing_.isBusy(); }
    /// Tells the service of an edit that is laid over; sent() says what it answered. One it agrees to shows from then on
    /// without the edit, too. Errors: as requestOf().
    Outcome send(const std::shared_ptr<const RecordEdit>& edit, const SendSpec& spec);

    /// What came since, one page of it at most, and what follows from what shows.
    void tick(std::int64_t nowMs, const SeenRange& seen);
    /// More came than a tick took over.
    bool isPending() const {
        return !came_.empty() || !made_.empty() || waitsToMake() || pager_.isLanding() || streamLost_ > 0;
    }
    /// The edits of places and jumps that must be repeated in the run, in order.
    struct LiveEdit {
        PageCommand command;
        bool isSeen = false; ///< somebody edited, or it came live or by a refresh: it is shown as movement
    };
    std::vector<LiveEdit> takeEdits() { return std::exchange(edits_, {}); }
    /// Pages whose records came since this was last asked.
    std::vector<std::int64_t> takeArrived() { return std::exchange(arrived_, {}); }
    /// The fields are others than they were when this was last asked.
    bool takeFieldsChanged() { return std::exchange(fieldsChanged_, false); }

Q_SIGNALS:
    /// Something came: a frame should take it over.
    void wanted();
    void noticed(const scorrere::Error& error);
    void streamStateChanged();
    void editsChanged();
    void sent(const std::shared_ptr<const scorrere::RecordEdit>& edit,
              const scorrere::render::SendOutcome& outcome);

private:
    struct Came {
        std::int64_t request = 0;
        std::shared_ptr<PageAnswer> answer; ///< null: it failed
        PageFailure failure;
    };
    void carryOut(bool isSeen = false);
    void makeEdits();
    /// The record that an edit is of or inserts, as it shows: its key, and it as JSON. Nothing: it is not here.
    std::optional<std::pair<std::string, std::string>> shownOf(const RecordEdit& edit) const;
    void takeSent(qint64 number, const SendOutcome& outcome);
    bool isDue(std::int64_t request, std::int64_t nowMs);
    void takeCame(std::int64_t nowMs);
    void takeStreamed();
    bool fits(const PageAnswer& answer);
    void widen();
    template <typename See>
    void forEachWaiting(See see);
    bool waitsToMake() const { return !making_ && !streamed_.empty(); }

    PagingSpec paging_;
    Pager pager_;
    std::vector<Field> fields_;
    Weather weather_;
    std::deque<Came> came_;
    std::deque<StreamResult> made_;
    std::vector<StreamChange> streamed_;
    std::int64_t streamLost_ = 0; ///< changes that came and could not wait
    std::vector<LiveEdit> edits_;
    std::vector<std::int64_t> arrived_;
    StreamState streamState_ = StreamState::Off;
    std::int64_t refreshedMs_ = 0;
    std::optional<std::int64_t> steadyMs_;
    bool hasStream_ = false;
    bool making_ = false;
    bool fieldsChanged_ = false;
    Job widening_;
    Job editing_;
    RecordEdits wanted_; ///< edits, in force or about to be
    std::vector<std::string> key_;
    std::map<std::int64_t, std::shared_ptr<const RecordEdit>> sending_;
    std::int64_t lastSent_ = 0;
    std::unique_ptr<PageWire> wire_;
};

} // namespace scorrere::render
