// SPDX-License-Identifier: Apache-2.0
//
// The network library follows redirects by itself, but takes the Authorization header along wherever it is
// sent. So redirects are followed here, and what is secret stays with the origin it was meant for.
#include "render/http_call.h"

#include <QElapsedTimer>
#include <QEventLoop>
#include <QHostAddress>
#include <QNetworkAccessManager>
#include <QNetworkProxyFactory>
#include <QNetworkReply>
#include <QTimer>
#include <algorithm>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

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

struct Wire {
    QList<QSslError> tls;
    double connectedMs = -1;
    double sentMs = -1;
    double firstMs = -1;
    bool tooLarge = false;
};

Error networkError(const QNetworkReply& reply, const Wire& wire, std::int64_t timeoutMs) {
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
        std::string why = wire.tls.isEmpty() ? reply.errorString().toStdString()
                                             : wire.tls.first().errorString().toStdString();
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
    const auto port = [](const QUrl& url) {
        return url.port(url.scheme() == QLatin1String("https") ? 443 : 80);
    };
    return a.scheme() == b.scheme() && a.host() == b.host() && port(a) == port(b);
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

/// One request and its whole answer, without following redirects.
Result<HttpAnswer> askOnce(QNetworkAccessManager& manager, const QUrl& url, const HttpCall& call,
                           bool secrets, const std::stop_token& stop,
                           const std::function<void(std::int64_t)>& progress) {
    QNetworkRequest request(url);
    request.setAttribute(QNetworkRequest::RedirectPolicyAttribute, QNetworkRequest::ManualRedirectPolicy);
    request.setAttribute(QNetworkRequest::CacheLoadControlAttribute, QNetworkRequest::AlwaysNetwork);
    request.setAttribute(QNetworkRequest::CookieLoadControlAttribute, QNetworkRequest::Manual);
    request.setAttribute(QNetworkRequest::AuthenticationReuseAttribute, QNetworkRequest::Manual);
    request.setTransferTimeout(static_cast<int>(call.timeoutMs));
    for (const HttpHeaders* headers : {&call.headers, &call.secretHeaders}) {
        for (const auto& [name, value] : *headers) {
            if (headers == &call.headers || secrets) {
                request.setRawHeader(QByteArray::fromStdString(name), QByteArray::fromStdString(value));
            }
        }
    }
    QElapsedTimer clock;
    clock.start();
    const auto now = [&clock] { return static_cast<double>(clock.nsecsElapsed()) / 1e6; };
    Wire wire;
    QByteArray body;
    QEventLoop loop;
    const std::unique_ptr<QNetworkReply> reply(manager.get(request));
    reply->setReadBufferSize(1 << 20);
    QObject::connect(reply.get(), &QNetworkReply::sslErrors, &loop,
                     [&](const QList<QSslError>& errors) { wire.tls = errors; });
    QObject::connect(reply.get(), &QNetworkReply::requestSent, &loop, [&] {
        wire.connectedMs = wire.connectedMs < 0 ? now() : wire.connectedMs;
        wire.sentMs = now();
    });
    QObject::connect(reply.get(), &QNetworkReply::metaDataChanged, &loop,
                     [&] { wire.firstMs = wire.firstMs < 0 ? now() : wire.firstMs; });
    const auto takeBytes = [&] {
        if (reply->isOpen()) {
            body += reply->readAll();
        }
        if (body.size() > call.maxBytes) {
            wire.tooLarge = true;
            reply->abort();
        } else if (progress) {
            progress(body.size());
        }
    };
    QObject::connect(reply.get(), &QNetworkReply::readyRead, &loop, takeBytes);
    QObject::connect(reply.get(), &QNetworkReply::finished, &loop, &QEventLoop::quit);
    const std::stop_callback onStop(
        stop, [&loop] { QMetaObject::invokeMethod(&loop, &QEventLoop::quit, Qt::QueuedConnection); });
    if (!stop.stop_requested() && !reply->isFinished()) {
        loop.exec();
    }
    if (stop.stop_requested()) {
        return failed(ErrorCode::Cancelled, url, "the call was cancelled", "");
    }
    takeBytes();
    if (wire.tooLarge) {
        return failed(ErrorCode::TooLarge, url,
                      fmt::format("the answer is larger than {} MiB", call.maxBytes >> 20),
                      "Ask for fewer records at a time.");
    }
    HttpAnswer answer;
    answer.status = reply->attribute(QNetworkRequest::HttpStatusCodeAttribute).toInt();
    if (answer.status == 0) {
        return networkError(*reply, wire, call.timeoutMs);
    }
    answer.address = url.toString().toStdString();
    answer.reason = reply->attribute(QNetworkRequest::HttpReasonPhraseAttribute).toString().toStdString();
    for (const auto& [name, value] : reply->rawHeaderPairs()) {
        answer.headers.emplace_back(name.toStdString(), value.toStdString());
    }
    const double end = now();
    const double sent = wire.sentMs < 0 ? 0 : wire.sentMs;
    const double first = wire.firstMs < 0 ? end : wire.firstMs;
    answer.connectMs = std::max(wire.connectedMs, 0.0);
    answer.waitMs = std::max(first - sent, 0.0);
    answer.transferMs = end - first;
    answer.body = body.toStdString();
    answer.charset = charsetOf(answer.header("Content-Type"));
    const auto error = reply->error();
    const bool byStatus = answer.status >= 400; // the library calls such an answer an error, too
    if (error != QNetworkReply::NoError && !byStatus) {
        const std::string promised = answer.header("Content-Length");
        answer.cutOff = error == QNetworkReply::RemoteHostClosedError
                            ? fmt::format("the connection closed after {} of {} bytes", body.size(),
                                          promised.empty() ? "an unknown number of" : promised)
                            : networkError(*reply, wire, call.timeoutMs).message;
    }
    return answer;
}

} // namespace

std::string HttpAnswer::header(const std::string& name) const {
    const auto same = [&name](const auto& held) {
        return QString::fromStdString(held.first)
                   .compare(QString::fromStdString(name), Qt::CaseInsensitive) == 0;
    };
    const auto found = std::find_if(headers.begin(), headers.end(), same);
    return found == headers.end() ? std::string() : found->second;
}

Result<HttpAnswer> askHttp(const HttpCall& call, std::stop_token stop,
                           const std::function<void(std::int64_t bytes)>& progress) {
    const QUrl first(QString::fromStdString(call.address), QUrl::StrictMode);
    if (!first.isValid() || first.host().isEmpty() ||
        (first.scheme() != QLatin1String("http") && first.scheme() != QLatin1String("https"))) {
        return failed(
            ErrorCode::Invalid, first, fmt::format("\"{}\" is not an address one can ask", call.address),
            "It starts with http:// or https:// and a host, as in https://example.org/sightings{?page}.");
    }
    QNetworkAccessManager manager;
    manager.setProxyFactory(new EnvironmentProxy); // it takes it over
    QUrl url = first;
    for (int redirects = 0;; ++redirects) {
        auto answer = askOnce(manager, url, call, sameOrigin(first, url), stop, progress);
        if (!answer) {
            return answer;
        }
        const std::string to = answer->header("Location");
        if (answer->status < 300 || answer->status >= 400 || answer->status == 304 || to.empty()) {
            answer->redirects = redirects;
            return answer;
        }
        const QUrl next = url.resolved(QUrl(QString::fromStdString(to)));
        if (redirects + 1 >= kMostRedirects) {
            return failed(ErrorCode::Unreadable, url,
                          fmt::format("it redirects more than {} times", kMostRedirects),
                          "The service sends one in circles; ask the address it should end at.");
        }
        if (url.scheme() == QLatin1String("https") && next.scheme() != QLatin1String("https")) {
            return failed(ErrorCode::Unreadable, url,
                          fmt::format("it redirects from https to {}, which anyone could read",
                                      next.scheme().toStdString()),
                          "Ask that address yourself if that is meant.");
        }
        url = next;
    }
}

std::optional<Error> statusError(const HttpAnswer& answer) {
    if (answer.status >= 200 && answer.status < 300) {
        return std::nullopt;
    }
    const auto made = [&](std::string what, std::string advice) {
        Error error{
            ErrorCode::Unreadable, fmt::format("{} ({})", what, answer.status), std::move(advice), {}};
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
