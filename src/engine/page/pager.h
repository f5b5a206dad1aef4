// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/page/edit_layer.h"
#include "engine/page/page_log.h"
#include "engine/page/page_strip.h"
#include "engine/page/retry_policy.h"
#include "engine/page/waiting_records.h"

#include <map>
#include <optional>
#include <vector>

namespace scorrere {

/// What of the collection shows, in places.
struct SeenRange {
    std::int64_t first = 0; ///< in the window
    std::int64_t last = 0;
    std::int64_t aliveFirst = 0; ///< carried by item views: their records must stay
    std::int64_t aliveLast = 0;
    double placesPerSecond = 0; ///< the window's speed, positive towards the end
};

/// What the row at the end says; where nothing is loaded, what stands in the collection's stead.
enum class TailState : std::uint8_t {
    FirstLoad,
    FirstFailed,
    Empty,
    More, ///< there may be more; nobody asked yet
    Loading,
    Failed,
    End,
};
inline constexpr std::size_t kTailStates = 7;

/// What becomes of a place on the strip that has no record here.
enum class PlaceState : std::uint8_t { Unasked, InFlight, Waiting, Failed, Dropped, Loaded };

/// Where the reader stands after a refresh.
enum class RefreshStand : std::uint8_t { AtTop, WithReader };

/// What a service does that its users should know of.
struct PageFinding {
    enum class Kind : std::uint8_t {
        Twice,     ///< a page brought the same key twice
        Drift,     ///< the order changed between two answers
        Total,     ///< the total changed between two answers
        SamePage,  ///< the same page came again and again: asking on was stopped
        OtherSize, ///< pages are shorter than was asked for
        EmptyPage, ///< a page within the total is empty
    };
    Kind kind = Kind::Twice;
    std::int64_t page = 0; ///< the first where it was seen
    std::int64_t count = 1;
    std::string text;
};

/// What must be done outside.
struct PageCommand {
    enum class Kind : std::uint8_t {
        Ask,
        Cancel,  ///< the request of that number: its answer is not wanted any more
        Edit,    ///< places changed
        StandAt, ///< the window's start goes to that place
    };
    Kind kind = Kind::Ask;
    std::int64_t request = 0;
    std::int64_t page = 0;
    std::int64_t from = 0;    ///< Offset: records before it; Number: pages before it
    std::string token;        ///< Cursor, Next, Link: where it is; empty: at the start
    bool conditional = false; ///< its records are here: "unchanged" is an answer
    PlaceEdit edit;
    std::int64_t place = 0;
};

/// Decides which page is asked for, when, and why not: events in, commands out, no I/O and no clock.
///
/// It asks before the end shows, never twice, never after the end; nearest to the window first; tries again
/// what failed; drops what is far; keeps keys unique; and lets old records stand until new ones are here.
///
/// Units       Times in ms on the run's clock, which must not go back. Places count records from 0.
/// Complexity  n = pages. An event is O(pages about the window * log n); an answer O(its records * log n).
/// Ownership   Shares the tables of the records that are here.
/// Threads     One thread.
/// Errors      None: what a service does wrong becomes a tail state, a log entry and a finding.
class Pager {
public:
    explicit Pager(const PageRules& rules);

    const PageRules& rules() const { return rules_; }
    /// Everything but the style and the size may change while it runs.
    void setRules(const PageRules& rules);

    /// The view that needs the records is there, or there again.
    void start(std::int64_t nowMs);
    /// It went: nothing is in flight afterwards, nothing is asked for; what is here stays.
    void stop();
    void look(std::int64_t nowMs, const SeenRange& seen);
    void answered(std::int64_t nowMs, std::int64_t request, PageAnswer answer);
    void failed(std::int64_t nowMs, std::int64_t request, const PageFailure& failure);
    /// A new generation. Old records stay until the first page of the new one is here.
    void refresh(std::int64_t nowMs, RefreshStand stand);
    /// Sort, filter or search text are others: a new generation, once nothing changed for a while.
    void requery(std::int64_t nowMs);
    /// What was given up, or waits, is asked for again at once.
    void retry(std::int64_t nowMs);

    /// Records came over the live stream. New ones wait beyond the top until showWaiting(), the newest first;
    /// when they are too many to stand there, that is a refresh.
    void streamAdded(std::vector<PageRecord> records);
    void streamChanged(PageRecord record);
    void streamRemoved(const std::string& key);
    void showWaiting();
    /// Other edits are laid over whatever comes, and over what is here.
    void setEdits(std::shared_ptr<const PageEdits> edits);
    const PageEdits& edits() const { return edits_.edits(); }
    /// The service has taken over what an edit says: it shows when that edit is taken away, too. `asOne`: that edit alone.
    void agree(const PageEdits& asOne, const RecordEdit& edit);
    /// Puts other tables with the same rows in the places of those they were made from.
    void replaceTables(const std::map<const RecordTable*, std::shared_ptr<const RecordTable>>& with);
    std::size_t waitingCount() const { return waiting_.count(); }
    /// The record of that key, on the strip, waiting above it or removed by an edit, as its service has it; null: it is not
    /// here.
    const PageRecord* find(const std::string& key) const;

    /// The same as it shows; of one that is removed as its service has it.
    const PageRecord* shown(const std::string& key) const;

    template <typename See>
    void forEachTable(See see) const {
        strip_.forEachTable(see);
        waiting_.forEach([&see](const PageRecord& record) {
            see(record.table);
            if (record.served) {
                see(record.served->table);
            }
        });
        edits_.forEachTable(see);
    }

    std::vector<PageCommand> takeCommands() { return std::exchange(commands_, {}); }
    /// When look() should be called again though nothing moved; nothing: no need.
    std::optional<std::int64_t> wakeAtMs() const;

    PageStrip& strip() { return strip_; }
    TailState tail() const { return tail_; }
    /// What the tail or the error in the collection's stead says.
    const PageFailure& failure() const { return failure_; }
    PlaceState stateOfPage(std::int64_t page) const;
    /// Pages in flight, by number.
    const std::map<std::int64_t, std::int64_t>& inFlight() const { return flying_; }
    std::int64_t generation() const { return generation_; }
    bool isRunning() const { return running_; }
    /// A long answer is being put in its place: look() goes on with it, anything else puts in the rest at
    /// once.
    bool isLanding() const { return landing_.has_value(); }
    bool isRefreshing() const { return refreshing_; }
    /// Why the last refresh brought nothing; nothing: it did, or none was asked for.
    const std::optional<PageFailure>& refreshFailure() const { return refreshFailure_; }
    bool isOffline() const { return retry_.isOffline(); }
    /// Some of what shows was kept from an earlier day and not confirmed since.
    bool isFromDisk() const { return unconfirmed_ > 0; }
    bool endKnown() const { return endKnown_; }
    std::optional<std::int64_t> total() const { return total_; }
    const PageLog& log() const { return log_; }
    const RequestRecord* request(std::int64_t number) { return log_.find(number); }
    const std::vector<PageFinding>& findings() const { return findings_; }
    /// Asserts what must always hold. For tests.
    void checkInvariants();

private:
    enum class Status : std::uint8_t { InFlight, Waiting, Failed, Loaded };
    struct Page {
        Status status = Status::Loaded;
        std::int64_t request = 0; ///< InFlight
        std::int64_t retryAtMs = 0;
        int tries = 0;
        bool isStale = false;    ///< loaded, but another answer tells that it changed
        bool isDoubted = false;  ///< in flight when that came: its own answer may be older
        bool byRefresh = false;  ///< and that answer is a new generation
        bool leftBehind = false; ///< Failed: the window was elsewhere since
        bool byUser = false;
        bool fromDisk = false;
        std::int64_t recheckAtMs = 0;
        std::uint64_t likeness = 0; ///< a hash of its keys, in order
        std::string newestStreamed; ///< page 0 in flight: what stood on top of all when it was asked for
        PageFailure failure;
    };
    /// An answer that is being put in its place, over several frames if it is long.
    struct Landing {
        std::int64_t page = 0;
        std::int64_t to = 0; ///< where it is put: another page when the service repeats itself
        std::int64_t came = 0;
        std::uint64_t likeness = 0;
        std::vector<std::string> newer; ///< what came live after it was asked for
        std::string newestStreamed;
        bool isFirst = false;
        PageAnswer answer; ///< but for its records
        std::int64_t request = 0;
    };
    struct Wanted {
        std::int64_t page = 0;
        std::int64_t distance = 0; ///< places between it and the window
        bool ahead = true;
    };

    std::int64_t startPage() const { return isPositional(rules_.style) ? rules_.firstRecord / served_ : 0; }
    std::int64_t keepPages() const;
    void plan(std::int64_t nowMs);
    void findWanted();
    void addWanted(std::int64_t page, std::int64_t distance, bool isAhead);
    void addBeyondEnds();
    std::int64_t pageNear(std::int64_t place);
    std::int64_t distanceTo(std::int64_t page);
    std::int64_t weight(const Wanted& wanted) const;
    void askWanted(std::int64_t nowMs);
    PutOff mayAsk(std::int64_t nowMs, std::int64_t page) const;
    void ask(std::int64_t nowMs, const Wanted& wanted);
    AskReason reasonFor(const Wanted& wanted, const Page& page) const;
    void putOff(std::int64_t nowMs, const Wanted& wanted, PutOff why);
    void cancelLeftBehind(std::int64_t nowMs);
    void cancel(std::int64_t nowMs, std::int64_t page, AskOutcome outcome);
    void cancelFrom(std::int64_t nowMs, std::int64_t page, AskOutcome outcome);
    void showPlaceholders(std::int64_t nowMs);
    void beginQuery(std::int64_t nowMs);

    std::optional<std::int64_t> pageOf(std::int64_t request) const;
    void confirm(Page& page);
    void takePage(std::int64_t page, PageAnswer answer, RequestRecord* record);
    void landSome();
    void finishLanding();
    void land(const Landing& landing, const PageStrip::Taken& taken);
    void startAnew();
    void setTotal(std::int64_t page, std::int64_t total);
    void makeRoomFor(std::int64_t page);
    void noticeSize(std::int64_t page, std::int64_t came, const PageAnswer& answer);
    std::int64_t noticeRepeat(std::int64_t page, std::uint64_t likeness);
    void noticeTaken(std::int64_t page, const PageStrip::Taken& taken);
    void linkChain(std::int64_t page, const PageAnswer& answer);
    void findEnd(std::int64_t page, std::int64_t came, const PageAnswer& answer);
    void suspect(std::int64_t page);
    void endAt(std::int64_t page);
    void finishRefresh(std::int64_t page);
    void giveUp(std::int64_t page);
    void forget(std::int64_t page);
    bool isAlive(std::int64_t page);
    std::int64_t farness(std::int64_t page);
    void evict();
    void forgetFar();
    void report(PageFinding::Kind kind, std::int64_t page, std::string text);
    void settle();
    TailState tailNow();
    const std::string& tokenOf(std::int64_t page) const;

    PageRules rules_;
    PageStrip strip_;
    RetryPolicy retry_;
    PageLog log_;
    std::vector<PageCommand> commands_;
    std::vector<PageFinding> findings_;
    std::map<std::int64_t, Page> pages_;          ///< those that are loaded, in flight, waiting or failed
    std::map<std::int64_t, std::int64_t> flying_; ///< page to the number of its request
    std::vector<std::string> tokens_;             ///< of pages from 0 (chains)
    std::vector<std::string> earlierTokens_;      ///< of pages from -1 backwards
    std::string previousToken_;                   ///< where the page before the first one is; empty: nowhere
    std::optional<Landing> landing_;
    WaitingRecords waiting_;
    EditLayer edits_;
    std::vector<Wanted> wanted_;
    std::vector<std::int64_t> failedHere_; ///< given up, and the window has not left them since
    SeenRange seen_;
    TailState tail_ = TailState::FirstLoad;
    PageFailure failure_;
    std::optional<PageFailure> refreshFailure_;
    std::int64_t generation_ = 1;
    std::int64_t noneFrom_ = INT64_MAX; ///< a page from there on was asked for, and there was none
    std::int64_t served_ = 0;           ///< records a page really has: offsets are multiples of it
    std::optional<std::int64_t> total_;
    std::optional<std::int64_t> queryAtMs_;
    std::optional<std::int64_t> firstAskedMs_;
    std::int64_t nowMs_ = 0;
    std::int64_t wantFrom_ = 0; ///< places that are wanted, and beyond which requests are cancelled
    std::int64_t wantTo_ = -1;
    std::int64_t lead_ = 0;          ///< in places
    std::int64_t unconfirmed_ = 0;   ///< loaded pages from disk
    std::uint64_t lastLikeness_ = 0; ///< of the last answers, and how many different pages in a row had it
    std::int64_t lastLike_ = 0;
    std::int64_t lowestLike_ = 0;
    int alike_ = 0;
    std::optional<std::int64_t> standAt_;
    std::pair<std::int64_t, PutOff> lastPutOff_{INT64_MIN, PutOff::No};
    RefreshStand stand_ = RefreshStand::AtTop;
    std::int64_t refreshPage_ = 0;
    bool running_ = false;
    bool endKnown_ = false;
    bool refreshing_ = false;
    bool replaceAll_ = false; ///< the first answer of another query replaces everything
    bool everLoaded_ = false; ///< a page of this query came
};

} // namespace scorrere
