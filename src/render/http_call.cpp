// SPDX-License-Identifier: Apache-2.0
//
// The network library follows redirects by itself, but takes the Authorization header along wherever it is
// sent. So redirects are followed here, and what is secret stays with the origin it was meant for.
#include "render/http_call.h"

#include <QEventLoop>
#include <QHostAddress>
#include <QNetworkProxyFactory>
#include <QRandomGenerator>
#include <algorithm>
#include <atomic>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

std::atomic<HttpListener> listener = nullptr;

constexpr int kMostRedirects = 10;

/// The proxy that the environment names; none for this machine itself.
class EnvironmentProxy final : public QNetworkProxyFactory {
public:
    QList<QNetworkProxy> queryProxy(const QNetworkProxyQuery& query) override {
        const QString host = query.peerHostName();
        if (host == QLatin1String("localhost") || QHostAddress(host).isLoopback()) {
            return {QNetworkProxy(QNetworkProxy::NoProxy)};
        }
        return systemProxyForQuery(query);
    }
};

Error failed(ErrorCode code, const QUrl& url, std::string message, std::string advice) {
    Error error{code, std::move(message), std::move(advice), {}};
    error.place.file = url.toDisplayString(QUrl::RemoveUserInfo).toStdString();
    return error;
}

Error noNetwork(const QUrl& url) {
    return failed(ErrorCode::Unreadable, url, "there is no network: the weather says so",
                  "Clear the weather after \"over\".");
}

Error networkError(const QNetworkReply& reply, const QList<QSslError>& tls, std::int64_t timeoutMs) {
    const QUrl url = reply.url();
    const std::string host = url.host().toStdString();
    switch (reply.error()) {
    case QNetworkReply::ConnectionRefusedError:
        return failed(ErrorCode::Unreadable, url,
                      fmt::format("{}:{} refused the connection", host,
                                  url.port(url.scheme() == QLatin1String("https") ? 443 : 80)),
                      "Is the service running, and on that port?");
    case QNetworkReply::HostNotFoundError:
        return failed(ErrorCode::Unreadable, url, fmt::format("there is no host named {}", host),
                      "Check the name, and that the network is there.");
    case QNetworkReply::TimeoutError:
    case QNetworkReply::OperationCanceledError: // how the library reports its own transfer timeout
        return failed(
            ErrorCode::Unreadable, url,
            fmt::format("{} did not answer within {:g} s", host, static_cast<double>(timeoutMs) / 1000),
            "Ask again, or give it more time.");
    case QNetworkReply::SslHandshakeFailedError: {
        std::string why =
            tls.isEmpty() ? reply.errorString().toStdString() : tls.first().errorString().toStdString();
        return failed(
            ErrorCode::Unreadable, url, fmt::format("{} cannot be trusted: {}", host, why),
            "Use the name its certificate is for; add its issuer to the system's certificates if it is "
            "your own. An http: service asked with https: fails like this, too.");
    }
    case QNetworkReply::RemoteHostClosedError:
        return failed(ErrorCode::Unreadable, url,
                      fmt::format("{} closed the connection without an answer", host),
                      "Is this an HTTP service? Look at its log.");
    case QNetworkReply::ProxyConnectionRefusedError:
    case QNetworkReply::ProxyNotFoundError:
    case QNetworkReply::ProxyAuthenticationRequiredError:
    case QNetworkReply::ProxyTimeoutError:
    case QNetworkReply::ProxyConnectionClosedError:
        return failed(ErrorCode::Unreadable, url,
                      fmt::format("the proxy failed: {}", reply.errorString().toStdString()),
                      "Check http_proxy, https_proxy and no_proxy in the environment.");
    default:
        return failed(ErrorCode::Unreadable, url,
                      fmt::format("the call failed: {}", reply.errorString().toStdString()),
                      "Check the address, and ask again.");
    }
}

bool sameOrigin(const QUrl& a, const QUrl& b) {
    return originOf(a) == originOf(b);
}

HttpFlight::Fault faultOf(QNetworkReply::NetworkError error) {
    switch (error) {
    case QNetworkReply::ConnectionRefusedError:
    case QNetworkReply::HostNotFoundError:
    case QNetworkReply::NetworkSessionFailedError:
    case QNetworkReply::UnknownNetworkError:
    case QNetworkReply::ProxyConnectionRefusedError:
    case QNetworkReply::ProxyNotFoundError:
        return HttpFlight::Fault::Unreachable;
    case QNetworkReply::TimeoutError:
    case QNetworkReply::OperationCanceledError:
    case QNetworkReply::RemoteHostClosedError:
    case QNetworkReply::TemporaryNetworkFailureError:
    case QNetworkReply::ProxyTimeoutError:
    case QNetworkReply::ProxyConnectionClosedError:
        return HttpFlight::Fault::Passing;
    default:
        return HttpFlight::Fault::Lasting;
    }
}

int statusOf(const QNetworkReply& reply) {
    return reply.attribute(QNetworkRequest::HttpStatusCodeAttribute).toInt();
}

std::string charsetOf(const std::string& contentType) {
    const QString type = QString::fromStdString(contentType).toLower();
    const qsizetype at = type.indexOf(QLatin1String("charset="));
    if (at < 0) {
        return {};
    }
    QString name = type.mid(at + 8).section(QLatin1Char(';'), 0, 0).trimmed();
    name.remove(QLatin1Char('"'));
    return name.toStdString();
}

} // namespace

std::string HttpAnswer::header(const std::string& name) const {
    const auto same = [&name](const auto& known) {
        return QString::fromStdString(known.first)
                   .compare(QString::fromStdString(name), Qt::CaseInsensitive) == 0;
    };
    const auto found = std::find_if(headers.begin(), headers.end(), same);
    return found == headers.end() ? std::string() : found->second;
}

HttpFlight::HttpFlight(QNetworkAccessManager& manager, HttpCall call, QObject* parent)
    : QObject(parent), manager_(manager), call_(std::move(call)) {
    weather_.setSingleShot(true);
    weather_.setTimerType(Qt::PreciseTimer);
}

HttpFlight::~HttpFlight() = default;

std::unique_ptr<QNetworkAccessManager> HttpFlight::makeManager() {
    auto manager = std::make_unique<QNetworkAccessManager>();
    manager->setProxyFactory(new EnvironmentProxy); // it takes it over
    return manager;
}

void HttpFlight::start() {
    auto address = webAddress(call_.address);
    if (!address) {
        outcome_ = std::move(address.error());
        return later(0, &HttpFlight::deliver);
    }
    first_ = *address;
    if (auto refused = refusedAt(first_)) {
        outcome_ = std::move(*refused);
        return later(0, &HttpFlight::deliver);
    }
    const Weather& weather = call_.weather;
    if (weather.isClear()) {
        return ask(first_);
    }
    auto& random = *QRandomGenerator::global();
    isLost_ = random.generateDouble() < weather.lossShare;
    isFailed_ = random.generateDouble() < weather.failShare;
    putOffMs_ = weather.latencyMs +
                (weather.jitterMs > 0
                     ? static_cast<std::int64_t>(random.bounded(static_cast<double>(weather.jitterMs + 1)))
                     : 0);
    later(isLost_ ? std::max<std::int64_t>(call_.timeoutMs, 1) : putOffMs_, &HttpFlight::throughWeather);
}

/// Why the collection may not ask there; nothing: it may.
std::optional<Error> HttpFlight::refusedAt(const QUrl& url) const {
    if (!call_.access || call_.access->mayAsk(url)) {
        return std::nullopt;
    }
    return failed(
        ErrorCode::Invalid, url,
        fmt::format("{} is not asked: nobody allowed it for this collection, which came from elsewhere",
                    originOf(url)),
        "Allow it if you trust the collection.");
}

void HttpFlight::later(std::int64_t ms, void (HttpFlight::*does)()) {
    weather_.disconnect();
    connect(&weather_, &QTimer::timeout, this, does);
    weather_.start(static_cast<int>(ms));
}

/// The call has been held back as long as the weather wants: it goes out, or does not.
void HttpFlight::throughWeather() {
    if (call_.weather.offline) {
        fault_ = Fault::Unreachable;
        outcome_ = noNetwork(first_);
    } else if (isLost_) {
        fault_ = Fault::Passing;
        outcome_ = failed(ErrorCode::Unreadable, first_, "no answer came: the weather you set lost it",
                          "Another try may bring it.");
    } else if (isFailed_) {
        HttpAnswer answer;
        answer.address = call_.address;
        answer.status = 503;
        answer.byWeather = true;
        answer.waitMs = static_cast<double>(putOffMs_);
        outcome_ = std::move(answer);
    } else {
        return ask(first_);
    }
    deliver();
}

void setHttpListener(HttpListener to) {
    listener = to;
}

void HttpFlight::deliver() {
    if (const HttpListener hears = listener) {
        hears(call_, *outcome_, clock_.isValid() ? nowMs() : 0);
    }
    Q_EMIT ended(*outcome_);
}

/// One request, without following redirects.
void HttpFlight::ask(const QUrl& url) {
    QNetworkRequest request(url);
    request.setAttribute(QNetworkRequest::RedirectPolicyAttribute, QNetworkRequest::ManualRedirectPolicy);
    request.setAttribute(QNetworkRequest::CacheLoadControlAttribute, QNetworkRequest::AlwaysNetwork);
    request.setAttribute(QNetworkRequest::CookieLoadControlAttribute, QNetworkRequest::Manual);
    request.setAttribute(QNetworkRequest::AuthenticationReuseAttribute, QNetworkRequest::Manual);
    request.setTransferTimeout(static_cast<int>(call_.timeoutMs));
    const bool secrets = sameOrigin(first_, url);
    for (const HttpHeaders* headers : {&call_.headers, &call_.originHeaders}) {
        for (const auto& [name, value] : *headers) {
            if (headers == &call_.headers || secrets) {
                request.setRawHeader(QByteArray::fromStdString(name), QByteArray::fromStdString(value));
            }
        }
    }
    clock_.start();
    tls_.clear();
    body_.clear();
    connectedMs_ = sentMs_ = firstMs_ = -1;
    tooLarge_ = false;
    if (call_.method == "GET") {
        reply_.reset(manager_.get(request));
    } else {
        if (!call_.body.empty()) {
            request.setHeader(QNetworkRequest::ContentTypeHeader, QString::fromStdString(call_.contentType));
        }
        reply_.reset(manager_.sendCustomRequest(request, QByteArray::fromStdString(call_.method),
                                                QByteArray::fromStdString(call_.body)));
    }
    reply_->setReadBufferSize(1 << 20);
    QNetworkReply* reply = reply_.get();
    connect(reply, &QNetworkReply::sslErrors, this,
            [this](const QList<QSslError>& errors) { tls_ = errors; });
    connect(reply, &QNetworkReply::requestSent, this, [this] {
        connectedMs_ = connectedMs_ < 0 ? nowMs() : connectedMs_;
        sentMs_ = nowMs();
    });
    connect(reply, &QNetworkReply::metaDataChanged, this, [this] {
        firstMs_ = firstMs_ < 0 ? nowMs() : firstMs_;
        if (call_.streams && statusOf(*reply_) == 200) {
            Q_EMIT streamed({}); // it stands, though it may be silent for long
        }
    });
    connect(reply, &QNetworkReply::readyRead, this, &HttpFlight::takeBytes);
    connect(reply, &QNetworkReply::finished, this, &HttpFlight::finish);
}

void HttpFlight::takeBytes() {
    if (!reply_->isOpen()) {
        return;
    }
    const QByteArray bytes = reply_->readAll();
    if (call_.streams) {
        firstMs_ = firstMs_ < 0 ? nowMs() : firstMs_;
        if (const int status = statusOf(*reply_); status >= 200 && status < 300) {
            Q_EMIT streamed(bytes);
            return;
        }
    }
    body_ += bytes;
    if (body_.size() > call_.maxBytes) {
        tooLarge_ = true;
        reply_->abort();
    } else {
        Q_EMIT progressed(body_.size());
    }
}

void HttpFlight::finish() {
    takeBytes();
    const QUrl url = reply_->url();
    Result<HttpAnswer> outcome = takeAnswer(url);
    reply_.release()->deleteLater();
    if (outcome && outcome->status >= 300 && outcome->status < 400 && outcome->status != 304) {
        const std::string to = outcome->header("Location");
        const auto next = webAddress(to, url);
        const bool keepsMethod = outcome->status == 307 || outcome->status == 308;
        if (to.empty() || (call_.method != "GET" && !keepsMethod)) {
            // An answer like any other.
        } else if (!next) {
            outcome =
                failed(ErrorCode::Invalid, url, "it redirects to what is not asked: " + next.error().message,
                       "Ask the address it should end at.");
        } else if (auto refused = refusedAt(*next)) {
            outcome = std::move(*refused);
        } else if (redirects_ + 1 >= kMostRedirects) {
            outcome = failed(ErrorCode::Unreadable, url,
                             fmt::format("it redirects more than {} times", kMostRedirects),
                             "The service sends one in circles; ask the address it should end at.");
        } else if (url.scheme() == QLatin1String("https") && next->scheme() != QLatin1String("https")) {
            outcome = failed(ErrorCode::Unreadable, url,
                             fmt::format("it redirects from https to {}, which anyone could read",
                                         next->scheme().toStdString()),
                             "Ask that address yourself if that is meant.");
        } else {
            ++redirects_;
            return ask(*next);
        }
    }
    if (call_.weather.offline) { // it went while the answer was on its way
        fault_ = Fault::Unreachable;
        outcome = noNetwork(url);
    }
    std::int64_t takes = 0;
    if (outcome) {
        outcome->redirects = redirects_;
        outcome->waitMs += static_cast<double>(putOffMs_);
        const std::int64_t rate = call_.streams ? 0 : call_.weather.bytesPerSecond;
        if (rate > 0) {
            const auto whole = static_cast<double>(outcome->body.size()) * 1000 / static_cast<double>(rate);
            takes = std::max<std::int64_t>(static_cast<std::int64_t>(whole - outcome->transferMs), 0);
            outcome->transferMs += static_cast<double>(takes);
        }
    }
    outcome_ = std::move(outcome);
    takes > 0 ? later(takes, &HttpFlight::deliver) : deliver();
}

Result<HttpAnswer> HttpFlight::takeAnswer(const QUrl& url) {
    if (tooLarge_) {
        return failed(ErrorCode::TooLarge, url,
                      fmt::format("the answer is larger than {} MiB", call_.maxBytes >> 20),
                      "Ask for fewer records at a time.");
    }
    HttpAnswer answer;
    answer.status = statusOf(*reply_);
    if (answer.status == 0) {
        fault_ = faultOf(reply_->error());
        return networkError(*reply_, tls_, call_.timeoutMs);
    }
    answer.address = url.toString().toStdString();
    answer.reason = reply_->attribute(QNetworkRequest::HttpReasonPhraseAttribute).toString().toStdString();
    for (const auto& [name, value] : reply_->rawHeaderPairs()) {
        answer.headers.emplace_back(name.toStdString(), value.toStdString());
    }
    const double end = nowMs();
    const double sent = sentMs_ < 0 ? 0 : sentMs_;
    const double first = firstMs_ < 0 ? end : firstMs_;
    answer.connectMs = std::max(connectedMs_, 0.0);
    answer.waitMs = std::max(first - sent, 0.0);
    answer.transferMs = end - first;
    answer.body = body_.toStdString();
    answer.charset = charsetOf(answer.header("Content-Type"));
    const auto error = reply_->error();
    const bool byStatus = answer.status >= 400; // the library calls such an answer an error, too
    const std::string promised = answer.header("Content-Length");
    // The library does not always tell of a connection that closed while it took over the last bytes.
    const bool isShort =
        answer.status == 200 && answer.header("Content-Encoding").empty() &&
        static_cast<qulonglong>(body_.size()) < QByteArray::fromStdString(promised).toULongLong();
    if ((error != QNetworkReply::NoError && !byStatus) || isShort) {
        answer.cutOff = isShort || error == QNetworkReply::RemoteHostClosedError
                            ? fmt::format("the connection closed after {} of {} bytes", body_.size(),
                                          promised.empty() ? "an unknown number of" : promised)
                            : networkError(*reply_, tls_, call_.timeoutMs).message;
    }
    return answer;
}

Result<HttpAnswer> askHttp(const HttpCall& call, std::stop_token stop,
                           const std::function<void(std::int64_t bytes)>& progress) {
    // One for the thread: what it has connected to stays connected.
    thread_local const std::unique_ptr<QNetworkAccessManager> manager = HttpFlight::makeManager();
    QEventLoop loop;
    std::optional<Result<HttpAnswer>> outcome;
    HttpFlight flight(*manager, call);
    QObject::connect(&flight, &HttpFlight::ended, &loop, [&](const Result<HttpAnswer>& ended) {
        outcome = ended;
        loop.quit();
    });
    if (progress) {
        QObject::connect(&flight, &HttpFlight::progressed, &loop, progress);
    }
    const std::stop_callback onStop(
        stop, [&loop] { QMetaObject::invokeMethod(&loop, &QEventLoop::quit, Qt::QueuedConnection); });
    flight.start();
    if (!stop.stop_requested() && !outcome) {
        loop.exec();
    }
    if (stop.stop_requested() || !outcome) {
        return failed(ErrorCode::Cancelled, QUrl(QString::fromStdString(call.address)),
                      "the call was cancelled", "");
    }
    return std::move(*outcome);
}

bool sameOrigin(const std::string& a, const std::string& b) {
    const std::string origin = originOf(a);
    return !origin.empty() && origin == originOf(b);
}

std::optional<Error> statusError(const HttpAnswer& answer) {
    if (answer.status >= 200 && answer.status < 300) {
        return std::nullopt;
    }
    const auto made = [&](std::string what, std::string advice) {
        Error error{ErrorCode::Unreadable,
                    fmt::format("{} ({}{})", what, answer.status, answer.byWeather ? ", by the weather" : ""),
                    std::move(advice),
                    {}};
        error.place.file = answer.address;
        return error;
    };
    switch (answer.status) {
    case 304:
        return made("nothing changed since it was asked before", "What is here is still right.");
    case 400:
    case 422:
        return made("the service does not understand the call",
                    "Check the variables of the address against its description.");
    case 401:
        return made("the service wants to know who asks, and does not know this one",
                    "Choose a token or a password after \"signed\", or mend its value.");
    case 403:
        return made("the service knows who asks, and refuses",
                    "Ask with another token, or for something else.");
    case 404:
    case 410:
        return made("there is nothing at this address",
                    "Check the path, letter by letter, and the variables.");
    case 406:
        return made("the service has no records in the form that was asked for",
                    "Remove or mend the Accept header.");
    case 429: {
        const std::string after = answer.header("Retry-After");
        return made("too many calls for the service",
                    after.empty() ? "Wait before asking again."
                                  : fmt::format("It says to wait {} s before asking again.", after));
    }
    case 502:
    case 503:
    case 504: {
        const std::string after = answer.header("Retry-After");
        return made("the service is not there for the moment",
                    after.empty() ? "Ask again in a while."
                                  : fmt::format("It says to wait {} s before asking again.", after));
    }
    default:
        break;
    }
    return answer.status >= 500
               ? made("the service failed inside", "Ask again; if it stays, look at the service's own log.")
               : made(fmt::format("the service answers \"{}\"", answer.reason),
                      "Look at the answer's text for what it wants.");
}

} // namespace scorrere::render

#include "moc_http_call.cpp"
