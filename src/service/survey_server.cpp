// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/survey_server.h"

#include "service/moths.h"
#include "service/survey_store.h"

#include <algorithm>
#include <atomic>
#include <charconv>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <fmt/format.h>
#include <httplib.h>
#include <map>
#include <mutex>
#include <random>
#include <thread>

namespace scorrere::service {

namespace {

using httplib::Request;
using httplib::Response;

constexpr std::size_t kKeptCalls = 1000;
constexpr std::int64_t kMostAtOnce = 10'000;
constexpr const char* kJson = "application/json";

const char* const kIndex = R"json({
  "what": "A made-up night-moth survey of the Hollowmere marsh",
  "sightings": {
    "number and size": "/sightings{?page,size}",
    "offset and limit": "/by-offset{?offset,limit}",
    "cursor in body": "/by-cursor{?cursor,limit}",
    "next address in body": "/by-next{?limit}",
    "Link header": "/by-link{?page,size}",
    "in other forms": ["/sightings.csv{?page,size}", "/sightings.ndjson{?page,size}", "/sightings.xml{?page,size}"]
  },
  "also": { "sort": "a field, or -field", "status": "verified, queried or provisional", "site": "a site's name",
            "total": "no: totals are not told" },
  "pictures": "/wings/{picture}",
  "changes": { "PATCH /sightings/{id}": "JSON Merge Patch (RFC 7396); 422 where it does not fit",
               "POST /sightings": "one more, with an id of yours; 409 where that is taken",
               "DELETE /sightings/{id}": "409 for what is verified" },
  "live": "/live{?every} (Server-Sent Events, JSON Patch)",
  "fault": ["unauthorised", "forbidden", "missing", "busy", "broken", "away", "page", "empty", "truncated",
            "too-long", "too-short", "bad-utf8", "latin1", "twice-decoded", "repeat", "endless", "deep", "nul",
            "number", "slow", "moved", "circle", "large", "lost"]
}
)json";

constexpr std::int64_t kMostNumber = 1'000'000'000; ///< what is computed from two of them still is a number

bool isPlainNumber(const std::string& text) {
    std::int64_t value = -1;
    const auto [end, failed] = std::from_chars(text.data(), text.data() + text.size(), value);
    return failed == std::errc() && end == text.data() + text.size() && value >= 0 && value <= kMostNumber;
}

std::int64_t wholeOf(const Request& request, const char* name, std::int64_t otherwise) {
    if (!request.has_param(name)) {
        return otherwise;
    }
    const std::string text = request.get_param_value(name);
    std::int64_t value = otherwise;
    std::from_chars(text.data(), text.data() + text.size(), value);
    return value;
}

std::string csvCell(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos) {
        return text;
    }
    std::string quoted = "\"";
    for (const char c : text) {
        quoted += c == '"' ? "\"\"" : std::string(1, c);
    }
    return quoted + '"';
}

std::string xmlText(const std::string& text) {
    std::string out;
    for (const char c : text) {
        out += c == '&'   ? "&amp;"
               : c == '<' ? "&lt;"
               : c == '>' ? "&gt;"
               : c == '"' ? "&quot;"
                          : std::string(1, c);
    }
    return out;
}

void appendCsv(std::string& out, const Sighting& s) {
    out +=
        fmt::format("{},{},{},{},{},{},{},{},{},{},{}\n", s.id, csvCell(s.species), csvCell(s.site), s.seen,
                    s.count, s.wingspanMm, s.temperatureC, s.status, s.rarity, csvCell(s.note), s.picture);
}

void appendXml(std::string& out, const Sighting& s) {
    out += fmt::format("  <sighting id=\"{}\" status=\"{}\">\n    <species>{}</species><site>{}</site>", s.id,
                       s.status, xmlText(s.species), xmlText(s.site));
    if (!s.seen.empty()) {
        out += "<seen>" + s.seen + "</seen>";
    }
    out += fmt::format("<count>{}</count><rarity>{}</rarity>", s.count, s.rarity);
    if (!s.note.empty()) {
        out += "<note>" + xmlText(s.note) + "</note>";
    }
    for (const std::string& trait : s.traits) {
        out += "<trait>" + xmlText(trait) + "</trait>";
    }
    out += "\n  </sighting>\n";
}

/// Latin-1 taken for UTF-8 and encoded once more: what "é" becomes on its way through a wrong decoder.
std::string decodedTwice(const std::string& text) {
    std::string out;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80) {
            out += c;
        } else {
            out += static_cast<char>(0xC0 | (byte >> 6));
            out += static_cast<char>(0x80 | (byte & 0x3F));
        }
    }
    return out;
}

/// The text with every character from U+0080 to U+00FF as one byte, others as a question mark.
std::string asLatin1(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]);
        if (byte < 0x80) {
            out += text[i];
        } else if ((byte == 0xC2 || byte == 0xC3) && i + 1 < text.size()) {
            out += static_cast<char>(((byte & 0x03) << 6) | (static_cast<unsigned char>(text[++i]) & 0x3F));
        } else if ((byte & 0xC0) == 0xC0) {
            out += '?';
        }
    }
    return out;
}

} // namespace

class SurveyServer::Inside {
public:
    Inside(ServerSettings settings, PictureMaker picture)
        : settings_(std::move(settings)), picture_(std::move(picture)), random_(settings_.seed),
          store_(settings_.count, settings_.seed) {
        server_.new_task_queue = [] { return new httplib::ThreadPool(12); };
        server_.set_keep_alive_max_count(1); // so that stopping waits for no idle connection
        server_.set_tcp_nodelay(true);
        server_.set_socket_options([](socket_t socket) { // not shared with another one on the same port
            const int yes = 1;
            setsockopt(socket, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
        });
        server_.set_pre_routing_handler(
            [this](const Request& request, Response& response) { return before(request, response); });
        server_.set_logger(
            [this](const Request& request, const Response& response) { log(request, response); });
        server_.Get("/", [](const Request&, Response& response) { response.set_content(kIndex, kJson); });
        routes();
    }
    ~Inside() { stop(); }

    Outcome start() {
        if (settings_.port == 0) {
            port_ = server_.bind_to_any_port("127.0.0.1");
        } else {
            port_ = server_.bind_to_port("127.0.0.1", settings_.port) ? settings_.port : -1;
        }
        if (port_ <= 0) {
            return Error{ErrorCode::Unreadable,
                         fmt::format("port {} cannot be had", settings_.port),
                         "Another program may be using it: choose another one, or leave it out.",
                         {}};
        }
        listener_ = std::thread([this] { server_.listen_after_bind(); });
        while (!server_.is_running()) { // stopping before it runs would be forgotten
            std::this_thread::yield();
        }
        return done();
    }

    void stop() {
        {
            const std::lock_guard lock(mutex_);
            stopping_ = true;
        }
        stopped_.notify_all();
        server_.stop();
        if (listener_.joinable()) {
            listener_.join();
        }
    }

    int port() const { return port_; }
    std::vector<ReceivedCall> received(std::int64_t after) const {
        const std::lock_guard lock(mutex_);
        std::vector<ReceivedCall> calls;
        std::ranges::copy_if(calls_, std::back_inserter(calls),
                             [after](const ReceivedCall& call) { return call.number > after; });
        return calls;
    }
    void onReceived(std::function<void(const ReceivedCall&)> told) {
        const std::lock_guard lock(mutex_);
        told_ = std::move(told);
    }

private:
    using Result = httplib::Server::HandlerResponse;

    /// Waits unless the service is stopping. False: it is.
    bool rest(std::int64_t ms) {
        std::unique_lock lock(mutex_);
        return !stopped_.wait_for(lock, std::chrono::milliseconds(ms), [this] { return stopping_; });
    }

    Result before(const Request& request, Response& response) {
        std::int64_t latency = settings_.latencyMinMs;
        bool fails = false;
        bool isLost = false;
        {
            const std::lock_guard lock(mutex_);
            if (settings_.latencyMaxMs > settings_.latencyMinMs) {
                latency += static_cast<std::int64_t>(
                    random_() %
                    static_cast<std::uint64_t>(settings_.latencyMaxMs - settings_.latencyMinMs + 1));
            }
            fails = static_cast<double>(random_() % 1'000'000) < settings_.failRate * 1e6;
            isLost = static_cast<double>(random_() % 1'000'000) < settings_.lossRate * 1e6;
        }
        if (latency > 0) {
            rest(latency);
        }
        const bool records = request.path != "/" && !request.path.starts_with("/wings/");
        if (records && !settings_.token.empty() &&
            request.get_header_value("Authorization") != "Bearer " + settings_.token) {
            response.set_header("WWW-Authenticate", "Bearer");
            return refuse(response, 401, "the token is missing or wrong");
        }
        if (records && isLost) {
            return lose(response);
        }
        if (records && fails) {
            response.set_header("Retry-After", "1");
            return refuse(response, 503, "a failure was asked for when the service was started");
        }
        for (const char* name : {"page", "size", "offset", "limit", "after"}) {
            if (request.has_param(name) && !isPlainNumber(request.get_param_value(name))) {
                return refuse(response, 400,
                              fmt::format("{} must be a whole number from 0 to {}", name, kMostNumber));
            }
        }
        return fault(request, response);
    }

    /// Nothing of the answer's body comes, and the connection closes.
    static Result lose(Response& response) {
        response.set_content_provider(1000, kJson,
                                      [](std::size_t, std::size_t, httplib::DataSink&) { return false; });
        return Result::Handled;
    }

    static Result refuse(Response& response, int status, const std::string& why) {
        response.status = status;
        response.set_content("{\"error\": \"" + why + "\"}\n", kJson);
        return Result::Handled;
    }

    /// The faults that need no records.
    Result fault(const Request& request, Response& response) {
        const std::string fault = request.get_param_value("fault");
        static const std::map<std::string, int> kStatus{{"unauthorised", 401}, {"forbidden", 403},
                                                        {"missing", 404},      {"busy", 429},
                                                        {"broken", 500},       {"away", 503}};
        if (const auto known = kStatus.find(fault); known != kStatus.end()) {
            if (known->second == 429 || known->second == 503) {
                response.set_header("Retry-After", "2");
            }
            return refuse(response, known->second, "this fault was asked for");
        }
        if (fault == "page") {
            response.set_content("<!doctype html><html><head><title>Sign in to the marsh</title></head>"
                                 "<body>Please sign in.</body></html>\n",
                                 "text/html; charset=utf-8");
        } else if (fault == "empty") {
            response.set_content("", kJson);
        } else if (fault == "nul") {
            response.set_content(std::string(2000, '\0'), kJson);
        } else if (fault == "number") {
            response.set_content("42\n", kJson);
        } else if (fault == "deep") {
            response.set_content(std::string(100'000, '[') + std::string(100'000, ']'), kJson);
        } else if (fault == "large") {
            large(response);
        } else if (fault == "lost") {
            return lose(response);
        } else if (fault == "circle") {
            response.set_redirect(request.target);
        } else if (fault == "moved") {
            response.set_redirect(request.path + "?page=" + std::to_string(wholeOf(request, "page", 1)) +
                                  "&size=" + std::to_string(wholeOf(request, "size", 20)));
        } else {
            if (fault == "slow") {
                rest(3000);
            }
            return Result::Unhandled;
        }
        return Result::Handled;
    }

    /// 500 MB of one string, made as it is sent.
    static void large(Response& response) {
        constexpr std::size_t kSize = 500'000'000;
        response.set_content_provider(kSize, kJson,
                                      [](std::size_t offset, std::size_t length, httplib::DataSink& sink) {
                                          std::string piece(std::min<std::size_t>(length, 1 << 16), 'x');
                                          if (offset == 0) {
                                              piece[0] = '"';
                                          }
                                          return sink.write(piece.data(), piece.size());
                                      });
    }

    void routes() {
        server_.Get("/sightings", [this](const Request& q, Response& r) { numbered(q, r); });
        server_.Get("/by-link", [this](const Request& q, Response& r) { linked(q, r); });
        server_.Get("/by-offset", [this](const Request& q, Response& r) { byOffset(q, r); });
        server_.Get("/by-cursor", [this](const Request& q, Response& r) { byCursor(q, r); });
        server_.Get("/by-next", [this](const Request& q, Response& r) { byNext(q, r); });
        server_.Get(R"(/sightings\.(csv|ndjson|xml))",
                    [this](const Request& q, Response& r) { otherForm(q, r); });
        server_.Get(R"(/sightings/(\d+))", [this](const Request& q, Response& r) { one(q, r); });
        server_.Post("/sightings",
                     [this](const Request& q, Response& r) { tellChanged(r, store_.add(q.body)); });
        server_.Patch(R"(/sightings/(\d+))", [this](const Request& q, Response& r) {
            tellChanged(r, store_.patch(idOf(q), q.body));
        });
        server_.Delete(R"(/sightings/(\d+))",
                       [this](const Request& q, Response& r) { tellChanged(r, store_.remove(idOf(q))); });
        server_.Get(R"(/wings/([\w.-]+))", [this](const Request& q, Response& r) { wings(q, r); });
        server_.Get("/live", [this](const Request& q, Response& r) { live(q, r); });
    }

    /// Which sightings there are, in which order, for a call's sort and filter. Made once for each.
    using Order = SurveyStore::Order;
    Order order(const Request& request) {
        const std::string sort = request.get_param_value("sort");
        const std::string status = request.get_param_value("status");
        const std::string site = request.get_param_value("site");
        const std::string key = sort + "\n" + status + "\n" + site;
        const std::lock_guard lock(ordersMutex_);
        if (const std::int64_t version = store_.version(); version != std::exchange(ordersOf_, version)) {
            orders_.clear();
            given_ = store_.given();
        }
        if (sort.empty() && status.empty() && site.empty()) {
            return given_;
        }
        if (const auto found = orders_.find(key); found != orders_.end()) {
            return found->second;
        }
        const std::string field = sort.starts_with('-') ? sort.substr(1) : sort;
        std::vector<std::pair<std::string, std::int32_t>> keyed;
        const std::int64_t all = given_ ? std::ssize(*given_) : settings_.count;
        for (std::int64_t at = 0; at < all; ++at) {
            const std::int64_t i = given_ ? (*given_)[static_cast<std::size_t>(at)] : at;
            const Sighting s = store_.at(i);
            if ((status.empty() || s.status == status) && (site.empty() || s.site == site)) {
                keyed.emplace_back(sortKey(s, field), static_cast<std::int32_t>(i));
            }
        }
        std::ranges::stable_sort(keyed, [&](const auto& a, const auto& b) {
            return sort.starts_with('-') ? b.first < a.first : a.first < b.first;
        });
        auto made = std::make_shared<std::vector<std::int32_t>>();
        for (const auto& [text, number] : keyed) {
            made->push_back(number);
        }
        if (orders_.size() > 16) {
            orders_.clear();
        }
        return orders_[key] = std::move(made);
    }
    static std::string sortKey(const Sighting& s, const std::string& field) {
        return field == "species"         ? s.species
               : field == "site"          ? s.site
               : field == "seen"          ? s.seen
               : field == "status"        ? s.status
               : field == "count"         ? fmt::format("{:09}", s.count)
               : field == "wingspan_mm"   ? fmt::format("{:09}", s.wingspanMm)
               : field == "rarity"        ? fmt::format("{:09}", s.rarity)
               : field == "temperature_c" ? fmt::format("{:09.2f}", s.temperatureC + 1000)
                                          : std::string();
    }

    struct Piece {
        std::vector<Sighting> sightings;
        std::int64_t total = 0;
        std::int64_t end = 0; ///< behind the last one
    };
    Piece piece(const Request& request, std::int64_t from, std::int64_t count) {
        const Order found = order(request);
        Piece made;
        made.total = found ? static_cast<std::int64_t>(found->size()) : settings_.count;
        const bool endless = request.get_param_value("fault") == "endless";
        const bool repeat = request.get_param_value("fault") == "repeat";
        from = std::clamp<std::int64_t>(from, 0, kMostNumber * kMostAtOnce);
        count = std::clamp<std::int64_t>(count, 1, kMostAtOnce);
        made.end = endless ? from + count : std::min(from + count, made.total);
        for (std::int64_t i = from; i < made.end; ++i) {
            std::int64_t at = endless ? i % std::max<std::int64_t>(made.total, 1) : i;
            if (repeat && i >= 3 && i - from < 3) {
                at = i - 3; // as when something was inserted between two pages
            }
            made.sightings.push_back(store_.at(found ? (*found)[static_cast<std::size_t>(at)] : at));
        }
        return made;
    }

    static std::string list(const Piece& piece) {
        std::string out = "[";
        for (const Sighting& sighting : piece.sightings) {
            out += out.size() > 1 ? ",\n" : "\n";
            appendJson(out, sighting);
        }
        return out + "\n]";
    }
    static bool tellsTotal(const Request& request) { return request.get_param_value("total") != "no"; }

    /// Sends a body: with its ETag, its faults, and as slowly as the service was told.
    void send(const Request& request, Response& response, std::string body, const char* type) {
        const std::string tag = fmt::format("\"{:016x}\"", std::hash<std::string>{}(body));
        response.set_header("ETag", tag);
        response.set_header("Cache-Control", "no-cache");
        if (request.get_header_value("If-None-Match") == tag) {
            response.status = 304;
            return;
        }
        const std::string fault = request.get_param_value("fault");
        const std::size_t whole = body.size();
        std::size_t promised = whole;
        if (fault == "truncated" || fault == "too-long") {
            promised = fault == "truncated" ? whole : whole + 1000;
            body.resize(fault == "truncated" ? whole * 3 / 5 : whole);
        } else if (fault == "too-short") {
            promised = whole * 3 / 5;
            body.resize(promised);
        } else if (fault == "bad-utf8") {
            for (std::size_t at = body.find("\"note\":\""); at != std::string::npos;
                 at = body.find("\"note\":\"", at + 8)) {
                body.insert(at + 8, "\xff\xfe ");
            }
            promised = body.size();
            type = "application/json; charset=utf-8";
        } else if (fault == "latin1") {
            body = asLatin1(body);
            promised = body.size();
        } else if (fault == "twice-decoded") {
            body = decodedTwice(body);
            promised = body.size();
        }
        if (settings_.bytesPerSecond == 0 && promised == body.size()) {
            response.set_content(body, type);
            return;
        }
        response.set_content_provider(
            promised, type,
            [this, body = std::move(body)](std::size_t offset, std::size_t length, httplib::DataSink& sink) {
                if (offset >= body.size()) {
                    return false; // less than was promised: the connection closes
                }
                std::size_t size = std::min(length, body.size() - offset);
                if (settings_.bytesPerSecond > 0) {
                    size = std::min<std::size_t>(size, static_cast<std::size_t>(std::max<std::int64_t>(
                                                           settings_.bytesPerSecond / 20, 1)));
                    if (!rest(50)) {
                        return false;
                    }
                }
                return sink.write(body.data() + offset, size);
            });
    }

    void numbered(const Request& request, Response& response) {
        const std::int64_t size = wholeOf(request, "size", 20);
        const std::int64_t page = std::max<std::int64_t>(wholeOf(request, "page", 1), 1);
        const Piece found = piece(request, (page - 1) * size, size);
        std::string body = fmt::format("{{\"page\": {}, \"size\": {}, ", page, size);
        if (tellsTotal(request)) {
            body += fmt::format("\"total\": {}, ", found.total);
        }
        send(request, response, body + "\"data\": {\"sightings\": " + list(found) + "}}\n", kJson);
    }

    void linked(const Request& request, Response& response) {
        const std::int64_t size = wholeOf(request, "size", 20);
        const std::int64_t page = std::max<std::int64_t>(wholeOf(request, "page", 1), 1);
        const Piece found = piece(request, (page - 1) * size, size);
        const auto link = [size](std::int64_t to, const char* rel) {
            return fmt::format("</by-link?page={}&size={}>; rel=\"{}\"", to, size, rel);
        };
        std::string links = link(1, "first");
        if (page > 1) {
            links += ", " + link(page - 1, "prev");
        }
        if (found.end < found.total) {
            links += ", " + link(page + 1, "next");
        }
        response.set_header("Link", links);
        if (tellsTotal(request)) {
            response.set_header("X-Total-Count", std::to_string(found.total));
        }
        send(request, response, list(found) + "\n", kJson);
    }

    void byOffset(const Request& request, Response& response) {
        const std::int64_t offset = wholeOf(request, "offset", 0);
        const Piece found = piece(request, offset, wholeOf(request, "limit", 20));
        std::string body = fmt::format("{{\"offset\": {}, ", offset);
        if (tellsTotal(request)) {
            body += fmt::format("\"total\": {}, ", found.total);
        }
        send(request, response, body + "\"sightings\": " + list(found) + "}\n", kJson);
    }

    /// A cursor says where it was in a way that nobody should count on.
    void byCursor(const Request& request, Response& response) {
        std::int64_t from = 0;
        const std::string cursor = request.get_param_value("cursor");
        if (!cursor.empty()) {
            if (!cursor.starts_with("m-") ||
                std::from_chars(cursor.data() + 2, cursor.data() + cursor.size(), from, 36).ec !=
                    std::errc()) {
                refuse(response, 400, "this cursor is none of ours");
                return;
            }
        }
        const Piece found = piece(request, from, wholeOf(request, "limit", 20));
        std::array<char, 24> digits{};
        const auto end = std::to_chars(digits.data(), digits.data() + digits.size(), found.end, 36).ptr;
        const bool more = found.end < found.total || request.get_param_value("fault") == "endless";
        const std::string next = more ? "\"m-" + std::string(digits.data(), end) + "\"" : "null";
        const std::int64_t limit = std::clamp<std::int64_t>(wholeOf(request, "limit", 20), 1, kMostAtOnce);
        const auto back = std::to_chars(digits.data(), digits.data() + digits.size(),
                                        std::max<std::int64_t>(from - limit, 0), 36)
                              .ptr;
        const std::string previous = from > 0 ? "\"m-" + std::string(digits.data(), back) + "\"" : "null";
        send(request, response,
             "{\"sightings\": " + list(found) + ", \"cursor\": {\"next\": " + next +
                 ", \"previous\": " + previous + "}}\n",
             kJson);
    }

    void byNext(const Request& request, Response& response) {
        const std::int64_t after = wholeOf(request, "after", 0);
        const std::int64_t limit = wholeOf(request, "limit", 20);
        const Piece found = piece(request, after, limit);
        const std::string next =
            found.end < found.total
                ? fmt::format("\"http://127.0.0.1:{}/by-next?limit={}&after={}\"", port_, limit, found.end)
                : "null";
        send(request, response, "{\"next\": " + next + ", \"sightings\": " + list(found) + "}\n", kJson);
    }

    void otherForm(const Request& request, Response& response) {
        const std::int64_t size = wholeOf(request, "size", 20);
        const std::int64_t page = std::max<std::int64_t>(wholeOf(request, "page", 1), 1);
        const Piece found = piece(request, (page - 1) * size, size);
        const std::string form = request.matches[1];
        if (form == "csv") {
            std::string body =
                "id,species,site,seen,count,wingspan_mm,temperature_c,status,rarity,note,picture\n";
            for (const Sighting& sighting : found.sightings) {
                appendCsv(body, sighting);
            }
            send(request, response, std::move(body), "text/csv; charset=utf-8");
        } else if (form == "xml") {
            std::string body = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<survey>\n";
            for (const Sighting& sighting : found.sightings) {
                appendXml(body, sighting);
            }
            send(request, response, body + "</survey>\n", "application/xml");
        } else {
            std::string body;
            for (const Sighting& sighting : found.sightings) {
                appendJson(body, sighting);
                body += '\n';
            }
            send(request, response, std::move(body), "application/x-ndjson");
        }
    }

    static std::int64_t idOf(const Request& request) {
        std::int64_t id = 0;
        const std::string text = request.matches[1];
        std::from_chars(text.data(), text.data() + text.size(), id);
        return id;
    }

    void one(const Request& request, Response& response) {
        const auto sighting = store_.withId(idOf(request));
        if (!sighting) {
            refuse(response, 404, "there is no such sighting");
            return;
        }
        std::string body;
        appendJson(body, *sighting);
        send(request, response, body + "\n", kJson);
    }

    static void tellChanged(Response& response, const SurveyStore::Answer& answer) {
        if (!answer.why.empty()) {
            refuse(response, answer.status, answer.why);
            return;
        }
        response.status = answer.status;
        if (answer.status != 204) {
            std::string body;
            appendJson(body, answer.sighting);
            response.set_content(body + "\n", kJson);
        }
    }

    /// A few are missing, a few are slow: as on any server.
    void wings(const Request& request, Response& response) {
        const std::string name = request.matches[1];
        const std::size_t luck = std::hash<std::string>{}(name) % 40;
        if (luck == 1 && !rest(1500)) {
            return;
        }
        const auto picture = luck == 0 || !picture_ ? std::nullopt : picture_(name);
        if (!picture) {
            refuse(response, 404, "there is no such picture");
            return;
        }
        response.set_header("Cache-Control", "max-age=3600");
        response.set_content(*picture, "image/png");
    }

    /// New sightings on top and changed ones, for as long as the caller listens. Event n is the same for
    /// everyone who asks, so one who was away can say what was last heard and get the rest.
    void live(const Request& request, Response& response) {
        const std::int64_t every = std::clamp<std::int64_t>(wholeOf(request, "every", 1000), 1, 60'000);
        std::int64_t last = wholeOf(request, "after", 0);
        if (const std::string heard = request.get_header_value("Last-Event-ID"); !heard.empty()) {
            std::from_chars(heard.data(), heard.data() + heard.size(), last);
        }
        auto number = std::make_shared<std::int64_t>(last);
        response.set_header("Cache-Control", "no-store");
        response.set_chunked_content_provider(
            "text/event-stream", [this, every, number](std::size_t, httplib::DataSink& sink) {
                if (!sink.is_writable() || !rest(every)) {
                    sink.done();
                    return true;
                }
                const std::int64_t n = ++*number;
                std::string patch;
                if (n % 3 == 0) {
                    const std::int64_t changed =
                        makeSighting((n * 7) % std::max<std::int64_t>(settings_.count, 1), settings_.seed).id;
                    patch = fmt::format(
                        R"([{{"op":"replace","path":"/sightings/{}/status","value":"verified"}}])", changed);
                } else {
                    const Sighting made = makeSighting(settings_.count + n, settings_.seed);
                    patch = fmt::format(R"([{{"op":"add","path":"/sightings/{}","value":)", made.id);
                    appendJson(patch, made);
                    patch += "}]";
                }
                const std::string event = fmt::format("id: {}\nevent: patch\ndata: {}\n\n", n, patch);
                return sink.write(event.data(), event.size());
            });
    }

    void log(const Request& request, const Response& response) {
        ReceivedCall call;
        call.atMs =
            std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::steady_clock::now() - started_)
                .count();
        call.what = request.method == "GET" ? request.target : request.method + " " + request.target;
        call.status = response.status;
        call.bytes = response.body.empty() ? static_cast<std::int64_t>(response.content_length_)
                                           : static_cast<std::int64_t>(response.body.size());
        if (const std::string fault = request.get_param_value("fault"); !fault.empty()) {
            call.note = "fault: " + fault;
        } else if (call.status == 304) {
            call.note = "not changed";
        } else if (call.status == 401) {
            call.note = request.has_header("Authorization") ? "the token is wrong" : "no token";
        }
        std::function<void(const ReceivedCall&)> told;
        {
            const std::lock_guard lock(mutex_);
            call.number = ++received_;
            calls_.push_back(call);
            if (calls_.size() > kKeptCalls) {
                calls_.pop_front();
            }
            told = told_;
        }
        if (told) {
            told(call);
        }
    }

    ServerSettings settings_;
    PictureMaker picture_;
    httplib::Server server_;
    std::thread listener_;
    int port_ = 0;
    std::chrono::steady_clock::time_point started_ = std::chrono::steady_clock::now();
    mutable std::mutex mutex_;
    std::condition_variable stopped_;
    bool stopping_ = false;
    std::mt19937_64 random_;
    std::deque<ReceivedCall> calls_;
    std::int64_t received_ = 0;
    std::function<void(const ReceivedCall&)> told_;
    std::mutex ordersMutex_;
    std::map<std::string, Order> orders_;
    std::int64_t ordersOf_ = 0; ///< the store's version
    Order given_;
    SurveyStore store_;
};

SurveyServer::SurveyServer(ServerSettings settings, PictureMaker picture)
    : inside_(std::make_unique<Inside>(std::move(settings), std::move(picture))) {}
SurveyServer::~SurveyServer() = default;
Outcome SurveyServer::start() {
    return inside_->start();
}
void SurveyServer::stop() {
    inside_->stop();
}
int SurveyServer::port() const {
    return inside_->port();
}
std::string SurveyServer::address() const {
    return fmt::format("http://127.0.0.1:{}", inside_->port());
}
std::vector<ReceivedCall> SurveyServer::received(std::int64_t after) const {
    return inside_->received(after);
}
void SurveyServer::onReceived(std::function<void(const ReceivedCall&)> told) {
    inside_->onReceived(std::move(told));
}

} // namespace scorrere::service
