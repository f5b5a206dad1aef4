// SPDX-License-Identifier: Apache-2.0
#include "render/page_wire.h"

#include "engine/page/event_stream.h"
#include "engine/record/uri_template.h"
#include "render/job.h"
#include "render/page_cache.h"
#include "render/page_reading.h"
#include "render/source_call.h"

#include <QDateTime>
#include <QThread>
#include <QTimer>
#include <deque>
#include <fmt/format.h>
#include <set>
#include <unordered_map>

namespace scorrere::render {

namespace {

constexpr std::int64_t kFirstAnswerMs =
    60'000;                   ///< so long the answer that opened the source is as good as new
constexpr int kGatherMs = 16; ///< about a frame
constexpr std::size_t kKnownTags = 2000;
constexpr std::int64_t kFirstReconnectMs = 1000;
constexpr std::int64_t kMostReconnectMs = 30'000;
constexpr std::size_t kMostWaiting = 10'000; ///< live changes that nobody has taken over

PageFailure::Kind kindOf(HttpFlight::Fault fault) {
    return fault == HttpFlight::Fault::Unreachable ? PageFailure::Kind::Offline
           : fault == HttpFlight::Fault::Passing   ? PageFailure::Kind::Passing
                                                   : PageFailure::Kind::Lasting;
}

PageFailure::Kind kindOf(int status) {
    return status == 404 || status == 410 || status == 416   ? PageFailure::Kind::NoSuch
           : status == 408 || status == 429 || status >= 500 ? PageFailure::Kind::Passing
                                                             : PageFailure::Kind::Lasting;
}

std::int64_t nowMs() {
    return QDateTime::currentMSecsSinceEpoch();
}

/// A service that refuses says why in its answer, if at all: what a text of it says, shortened.
std::string saidBy(const HttpAnswer& answer) {
    constexpr std::size_t kMostSaid = 200;
    const QByteArray bytes = QByteArray::fromStdString(answer.body.substr(0, kMostSaid));
    return QString::fromUtf8(bytes).simplified().toStdString();
}

SendOutcome outcomeOf(const Result<HttpAnswer>& answer) {
    if (!answer) {
        return {SendOutcome::Kind::NotSent, answer.error()};
    }
    auto wrong = statusError(*answer);
    if (!wrong) {
        return {};
    }
    const bool mayPass = kindOf(answer->status) == PageFailure::Kind::Passing || answer->byWeather;
    if (const std::string said = saidBy(*answer); !said.empty()) {
        wrong->message += ": " + said;
    }
    return {mayPass ? SendOutcome::Kind::NotSent : SendOutcome::Kind::Refused, *wrong};
}

/// What an answer needs to be asked for again only if it changed.
struct Tag {
    std::string etag;
    std::string modified;
};

} // namespace

/// What lives on the wire's thread.
class PageWire::Inside : public QObject {
public:
    Inside(std::shared_ptr<Link> link, WireSetup setup) : link_(std::move(link)), setup_(std::move(setup)) {}

    void ask(const PageCommand& command) {
        prepare();
        auto flight = std::make_unique<Flight>();
        flight->command = command;
        if (auto address = addressOf(command)) {
            flight->address = *address;
        } else {
            return fail(command.request, PageFailure::Kind::Lasting, address.error(), {});
        }
        Flight& found = *flight;
        flights_[command.request] = std::move(flight);
        if (const auto first = std::exchange(setup_.first, nullptr); first && first->asked == found.address &&
                                                                     setup_.weather.isClear() &&
                                                                     nowMs() - first->atMs < kFirstAnswerMs) {
            return take(command.request, first->answer);
        }
        showKept(found);
        send(found);
    }

    void cancel(std::int64_t request) { flights_.erase(request); }

    void setWeather(const Weather& weather) {
        setup_.weather = weather;
        for (const auto& [request, flight] : flights_) {
            flight->http->setWeather(weather);
        }
        for (const auto& [number, flight] : sending_) {
            flight->setWeather(weather);
        }
        if (weather.offline && streamCall_) {
            streamCall_.reset();
            reconnectLater();
        }
    }
    void setVariables(const std::vector<std::pair<std::string, std::string>>& variables) {
        setup_.source.variables = variables;
        tags_.clear();
    }
    void setFields(const std::vector<Field>& fields) { setup_.fields = fields; }

    void openStream() {
        wantsStream_ = true;
        if (!streamCall_ && !setup_.source.stream.address.empty()) {
            connectStream();
        }
    }
    void closeStream() {
        wantsStream_ = false;
        streamCall_.reset();
        reconnect_.reset();
        if (!gathered_.empty()) { // they were heard: the stream will not tell them again
            tellGathered();
        }
        tellStream(StreamState::Off);
    }
    void makeStreamed(const std::vector<StreamChange>& changes) {
        int refused = 0;
        auto made = std::make_shared<std::vector<StreamResult>>(
            madeStreamed(changes, setup_.source, setup_.fields, refused));
        if (refused > 0) {
            notice("live", {ErrorCode::Invalid,
                            fmt::format("{} live changes do not fit their record", refused),
                            "Look at the stream: a patch must fit the record it names.",
                            {}});
        }
        tell(&PageWire::streamMade, made);
    }
    void sendEdit(std::int64_t number, const EditRequest& request) {
        prepare();
        const auto fail = [&](const Error& error) {
            tell(&PageWire::sent, number, SendOutcome{SendOutcome::Kind::NotSent, error});
        };
        auto where = base();
        if (!where) {
            return fail(where.error());
        }
        std::string address = request.address;
        if (address.starts_with(kDemoScheme)) {
            address = fmt::format("{}/{}", *where, address.substr(std::string_view(kDemoScheme).size()));
        }
        HttpCall call = callOf(setup_.source, address, setup_.secret);
        const auto own = expandedAddress(setup_.source.address, sourceVariables(setup_.source), base_);
        if (!own || !sameOrigin(*own, address)) {
            call.originHeaders.clear();
        }
        call.method = request.method;
        call.body = request.body;
        call.contentType = request.contentType;
        call.weather = setup_.weather;
        call.access = accessTo(address);
        auto flight = std::make_unique<HttpFlight>(*manager_, std::move(call));
        connect(flight.get(), &HttpFlight::ended, this, [this, number](const Result<HttpAnswer>& answer) {
            const auto found = sending_.find(number);
            found->second.release()->deleteLater(); // it is what called
            sending_.erase(found);
            tell(&PageWire::sent, number, outcomeOf(answer));
        });
        HttpFlight& started = *flight;
        sending_[number] = std::move(flight);
        started.start();
    }
    /// Before the thread ends, on it.
    void close() {
        flights_.clear();
        sending_.clear();
        streamCall_.reset();
        reconnect_.reset();
        manager_.reset();
        cache_.reset();
    }
    std::stop_source stop;

private:
    struct Flight {
        PageCommand command;
        std::string address;
        std::unique_ptr<HttpFlight> http;
        bool isShown = false; ///< what was kept on disk shows
    };

    /// What needs this thread to be made on.
    void prepare() {
        if (manager_) {
            return;
        }
        workInBackground();
        manager_ = HttpFlight::makeManager();
        const SignSpec& sign = setup_.source.sign;
        signer_ = fmt::format("{}\n{}\n{}", static_cast<int>(sign.kind), sign.secret, sign.user);
        if (setup_.diskFile.empty() || setup_.diskMiB <= 0) {
            return;
        }
        auto cache = PageCache::open(setup_.diskFile,
                                     {static_cast<std::int64_t>(setup_.diskMiB * (1 << 20)),
                                      static_cast<std::int64_t>(setup_.diskDays * 86'400)},
                                     nowMs() / 1000);
        if (cache) {
            cache_ = std::move(*cache);
        } else {
            notice("disk", cache.error());
        }
    }

    Result<std::string> base() {
        if (base_.empty() && setup_.source.address.starts_with(kDemoScheme)) {
            auto address = setup_.demoAddress();
            if (!address) {
                return address;
            }
            base_ = *address;
        }
        return base_;
    }

    Result<std::string> addressOf(const PageCommand& command) {
        const PageSpec& pages = setup_.source.pages;
        const bool isWhole = pages.style == PageStyle::Next || pages.style == PageStyle::Link;
        if (isWhole && !command.token.empty()) {
            return command.token;
        }
        auto where = base();
        if (!where) {
            return where;
        }
        UriVariables variables = sourceVariables(setup_.source);
        if (pages.style == PageStyle::Number) {
            variables[pages.from] = fmt::format("{}", command.from + pages.first);
        } else if (pages.style == PageStyle::Offset) {
            variables[pages.from] = fmt::format("{}", command.from);
        } else if (pages.style == PageStyle::Cursor && !command.token.empty()) {
            variables[pages.from] = command.token;
        }
        return expandedAddress(setup_.source.address, variables, *where);
    }

    /// What an earlier run kept of the page, while the service is asked.
    void showKept(Flight& flight) {
        if (!cache_) {
            return;
        }
        const auto kept = cache_->find(flight.address, signer_);
        if (!kept) {
            return;
        }
        if (!flight.command.conditional) {
            auto page = readPage(setup_.source, *kept, setup_.fields, flight.command.page, stop.get_token());
            if (!page) {
                return; // made for another reading of the source: the service will tell
            }
            page->fromDisk = flight.isShown = true;
            tell(&PageWire::answered, flight.command.request, std::make_shared<PageAnswer>(std::move(*page)));
            noteTag(flight.address, *kept);
        }
    }

    void send(Flight& flight) {
        HttpCall call = callOf(setup_.source, flight.address, setup_.secret);
        // An answer may name any address for the next page; what is the source's own does not follow it.
        const auto own = expandedAddress(setup_.source.address, sourceVariables(setup_.source), base_);
        if (!own || !sameOrigin(*own, flight.address)) {
            call.originHeaders.clear();
        }
        const auto tag = tags_.find(flight.address);
        const bool hasContent = flight.command.conditional || flight.isShown;
        if (tag != tags_.end() && hasContent) {
            if (!tag->second.etag.empty()) {
                call.originHeaders.emplace_back("If-None-Match", tag->second.etag);
            }
            if (!tag->second.modified.empty()) {
                call.originHeaders.emplace_back("If-Modified-Since", tag->second.modified);
            }
        }
        call.weather = setup_.weather;
        call.access = accessTo(flight.address);
        flight.http = std::make_unique<HttpFlight>(*manager_, std::move(call));
        connect(flight.http.get(), &HttpFlight::ended, this,
                [this, request = flight.command.request](const Result<HttpAnswer>& answer) {
                    arrived(request, answer);
                });
        flight.http->start();
    }

    void arrived(std::int64_t request, const Result<HttpAnswer>& answer) {
        const auto found = flights_.find(request);
        if (found == flights_.end()) {
            return;
        }
        if (!answer) {
            return fail(request, kindOf(found->second->http->fault()), answer.error(), {});
        }
        take(request, *answer);
    }

    void take(std::int64_t request, const HttpAnswer& answer) {
        const auto found = flights_.find(request);
        const CallTimes times{answer.connectMs, answer.waitMs, answer.transferMs};
        const std::string address = found->second->address;
        const std::int64_t page = found->second->command.page;
        if (answer.status == 304) {
            land(request);
            auto same = std::make_shared<PageAnswer>();
            same->unchanged = true;
            same->times = times;
            tell(&PageWire::answered, request, same);
            return;
        }
        if (auto wrong = statusError(answer)) {
            return fail(request, kindOf(answer.status), *wrong, times, retryAfterMs(answer, nowMs()));
        }
        if (!answer.cutOff.empty()) {
            return fail(request, PageFailure::Kind::Passing,
                        {ErrorCode::Unreadable,
                         "the answer is not whole: " + answer.cutOff,
                         "It is asked for again by itself.",
                         {}},
                        times);
        }
        auto read = readPage(setup_.source, answer, setup_.fields, page, stop.get_token());
        if (!read) {
            return fail(request, PageFailure::Kind::Lasting, read.error(), times);
        }
        land(request);
        noteTag(address, answer);
        tell(&PageWire::answered, request, std::make_shared<PageAnswer>(std::move(*read)));
        if (cache_) {
            HttpAnswer kept = answer;
            const std::string secret = setup_.secret.value_or("");
            kept.body = secret.size() < 4 ? kept.body : masked(std::move(kept.body), secret);
            if (Outcome outcome = cache_->keep(address, signer_, kept, nowMs() / 1000); !outcome) {
                cache_.reset(); // a disk that is full now will be full for the next page, too
                notice("disk", outcome.error());
            }
        }
    }

    void land(std::int64_t request) {
        const auto found = flights_.find(request);
        if (found->second->http) {
            found->second->http.release()->deleteLater(); // it may be what called
        }
        flights_.erase(found);
    }

    void fail(std::int64_t request, PageFailure::Kind kind, const Error& error, const CallTimes& times,
              std::int64_t retryAfter = 0) {
        if (flights_.contains(request)) {
            land(request);
        }
        tell(&PageWire::failed, request, PageFailure{kind, error.message, error.advice, retryAfter, times});
    }

    /// The demo service is this program's own: nobody has to allow it.
    std::shared_ptr<const Access> accessTo(const std::string& address) const {
        const bool isDemo = setup_.source.address.starts_with(kDemoScheme) && sameOrigin(base_, address);
        return isDemo ? nullptr : setup_.access;
    }

    void noteTag(const std::string& address, const HttpAnswer& answer) {
        const Tag tag{answer.header("ETag"), answer.header("Last-Modified")};
        if (tag.etag.empty() && tag.modified.empty()) {
            tags_.erase(address);
            return;
        }
        if (tags_.insert_or_assign(address, tag).second) {
            tagOrder_.push_back(address);
        }
        while (tagOrder_.size() > kKnownTags) {
            tags_.erase(tagOrder_.front());
            tagOrder_.pop_front();
        }
    }

    void connectStream() {
        prepare();
        reconnect_.reset();
        stream_.restart();
        auto where = base();
        auto address =
            where ? expandedAddress(setup_.source.stream.address, sourceVariables(setup_.source), *where)
                  : Result<std::string>(where.error());
        if (!address) {
            return notice("live", address.error());
        }
        if (setup_.weather.offline) {
            return reconnectLater();
        }
        HttpCall call = callOf(setup_.source, *address, setup_.secret);
        std::erase_if(call.headers, [](const auto& header) { return header.first == "Accept"; });
        call.headers.emplace_back("Accept", "text/event-stream");
        const auto own = expandedAddress(setup_.source.address, sourceVariables(setup_.source), base_);
        if (!own || !sameOrigin(*own, *address)) {
            call.originHeaders.clear();
        }
        if (!stream_.lastId().empty()) {
            call.originHeaders.emplace_back("Last-Event-ID", stream_.lastId());
        }
        call.timeoutMs = 0; // a stream may be silent for long
        call.streams = true;
        call.weather = setup_.weather;
        call.access = accessTo(*address);
        tellStream(StreamState::Connecting);
        streamCall_ = std::make_unique<HttpFlight>(*manager_, std::move(call));
        connect(streamCall_.get(), &HttpFlight::streamed, this,
                [this](const QByteArray& bytes) { takeStreamed(bytes); });
        connect(streamCall_.get(), &HttpFlight::ended, this, [this](const Result<HttpAnswer>& answer) {
            if (answer && answer->status == 204) { // "do not come again", says the standard
                streamCall_.release()->deleteLater();
                return tellStream(StreamState::Off);
            }
            if (auto wrong = answer ? statusError(*answer) : std::nullopt) {
                notice("live", *wrong);
            }
            streamCall_.release()->deleteLater();
            reconnectLater();
        });
        streamCall_->start();
    }

    void reconnectLater() {
        if (!wantsStream_) {
            return;
        }
        tellStream(StreamState::Waiting);
        reconnectMs_ = std::min(std::max(reconnectMs_ * 2, kFirstReconnectMs), kMostReconnectMs);
        reconnect_ = std::make_unique<QTimer>();
        reconnect_->setSingleShot(true);
        connect(reconnect_.get(), &QTimer::timeout, this, [this] {
            reconnect_.release()->deleteLater();
            connectStream();
        });
        reconnect_->start(static_cast<int>(stream_.retryMs().value_or(reconnectMs_)));
    }

    void takeStreamed(const QByteArray& bytes) {
        tellStream(StreamState::On);
        reconnectMs_ = 0;
        for (const StreamEvent& event :
             stream_.feed({bytes.data(), static_cast<std::size_t>(bytes.size())})) {
            auto changes = streamChanges(event.data, setup_.source.stream.records);
            if (!changes) {
                notice("live", changes.error());
                continue;
            }
            gathered_.insert(gathered_.end(), std::make_move_iterator(changes->begin()),
                             std::make_move_iterator(changes->end()));
        }
        if (gathered_.size() > kMostWaiting) {
            tell(&PageWire::streamLost, static_cast<qint64>(gathered_.size()));
            gathered_.clear();
        }
        if (!gathered_.empty() && !gathering_) {
            gathering_ = true;
            QTimer::singleShot(kGatherMs, this, [this] {
                gathering_ = false;
                if (!gathered_.empty()) {
                    tellGathered();
                }
            });
        }
    }

    void tellGathered() {
        tell(&PageWire::streamCame,
             std::make_shared<std::vector<StreamChange>>(std::exchange(gathered_, {})));
    }
    /// Signals are the face's, and so the interface thread's.
    template <typename Signal, typename... What>
    void tell(Signal signal, What... what) {
        runOnInterface([link = link_, signal, ... what = std::move(what)] {
            if (link->face != nullptr) {
                Q_EMIT(link->face->*signal)(what...);
            }
        });
    }
    void tellStream(StreamState state) {
        if (std::exchange(streamState_, state) != state) {
            tell(&PageWire::streamStateChanged, state);
        }
    }
    void notice(const char* what, const Error& error) {
        if (told_.insert(what).second) {
            tell(&PageWire::noticed, error);
        }
    }

    std::shared_ptr<Link> link_;
    LivingThread living_;
    WireSetup setup_;
    std::unique_ptr<QNetworkAccessManager> manager_;
    std::unique_ptr<PageCache> cache_;
    std::string base_;
    std::string signer_;
    std::map<std::int64_t, std::unique_ptr<Flight>> flights_;
    std::map<std::int64_t, std::unique_ptr<HttpFlight>> sending_;
    std::unordered_map<std::string, Tag> tags_; ///< by address
    std::deque<std::string> tagOrder_;
    std::set<std::string> told_;
    EventStream stream_;
    std::unique_ptr<HttpFlight> streamCall_;
    std::unique_ptr<QTimer> reconnect_;
    std::vector<StreamChange> gathered_;
    std::int64_t reconnectMs_ = 0;
    StreamState streamState_ = StreamState::Off;
    bool wantsStream_ = false;
    bool gathering_ = false;
};

PageWire::PageWire(WireSetup setup, QObject* parent)
    : QObject(parent), link_(std::make_shared<Link>()), inside_(new Inside(link_, std::move(setup))) {
    startWorkers();
    link_->face = this;
    auto* thread = new QThread;
    thread->setObjectName(QStringLiteral("wire"));
    inside_->moveToThread(thread);
    connect(thread, &QThread::finished, inside_, &QObject::deleteLater);
    connect(thread, &QThread::finished, thread, &QObject::deleteLater);
    thread->start();
}

PageWire::~PageWire() {
    link_->face = nullptr;
    inside_->stop.request_stop();
    QMetaObject::invokeMethod(
        inside_,
        [inside = inside_] {
            inside->close();
            inside->thread()->quit();
        },
        Qt::QueuedConnection);
}

void PageWire::onWire(std::function<void()> call) {
    QMetaObject::invokeMethod(inside_, HandOver(std::move(call)), Qt::QueuedConnection);
}

void PageWire::ask(const PageCommand& command) {
    onWire([inside = inside_, command] { inside->ask(command); });
}
void PageWire::cancel(std::int64_t request) {
    onWire([inside = inside_, request] { inside->cancel(request); });
}
void PageWire::setWeather(const Weather& weather) {
    onWire([inside = inside_, weather] { inside->setWeather(weather); });
}
void PageWire::setVariables(const std::vector<std::pair<std::string, std::string>>& variables) {
    onWire([inside = inside_, variables] { inside->setVariables(variables); });
}
void PageWire::setFields(const std::vector<Field>& fields) {
    onWire([inside = inside_, fields] { inside->setFields(fields); });
}
void PageWire::openStream() {
    onWire([inside = inside_] { inside->openStream(); });
}
void PageWire::closeStream() {
    onWire([inside = inside_] { inside->closeStream(); });
}
void PageWire::send(qint64 number, EditRequest request) {
    onWire([inside = inside_, number, request = std::move(request)] { inside->sendEdit(number, request); });
}
void PageWire::makeStreamed(std::vector<StreamChange> changes) {
    onWire([inside = inside_, changes = std::move(changes)] { inside->makeStreamed(changes); });
}

} // namespace scorrere::render

#include "moc_page_wire.cpp"
