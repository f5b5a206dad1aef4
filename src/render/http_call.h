// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "render/weather.h"
#include "render/web_address.h"

#include <QElapsedTimer>
#include <QNetworkAccessManager>
#include <QNetworkReply>
#include <QSslError>
#include <QTimer>
#include <QUrl>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <utility>
#include <vector>

namespace scorrere::render {

using HttpHeaders = std::vector<std::pair<std::string, std::string>>;

struct HttpCall {
    std::string address;
    std::string method = "GET"; ///< any other follows a redirect only where that keeps the method (307, 308)
    std::string body;           ///< sent along; empty: none
    std::string contentType;    ///< of it
    HttpHeaders headers;        ///< say nothing of who asks: sent wherever it leads
    HttpHeaders originHeaders;  ///< sent to the address's own origin only, never after a redirect elsewhere
    std::shared_ptr<const Access> access;           ///< where it may go; null: anywhere
    std::int64_t timeoutMs = 15'000;                ///< without a byte moving
    std::int64_t maxBytes = std::int64_t{64} << 20; ///< of the body, unpacked
    bool streams = false;                           ///< the body is handed out as it comes, and not kept
    Weather weather; ///< over what the wire really is; its rate holds for whole answers, not for streams
};

struct HttpAnswer {
    std::string address; ///< the one that answered, after redirects
    int redirects = 0;
    int status = 0;
    std::string reason;
    HttpHeaders headers;
    double connectMs = 0;   ///< until the connection stands, with TLS
    double waitMs = 0;      ///< from the request being sent to the first byte
    double transferMs = 0;  ///< from the first byte to the last
    std::string body;       ///< unpacked
    std::string charset;    ///< as the Content-Type header says; empty: it does not
    bool byWeather = false; ///< nobody answered: the weather made it up
    std::string cutOff;     ///< why the body is not whole; empty: it is

    /// The first header of that name, whatever its case; empty when there is none.
    std::string header(const std::string& name) const;
};

/// Hears of each call of the process that ended, and after how long since it was last asked; on the thread of the call.
using HttpListener = void (*)(const HttpCall& call, const Result<HttpAnswer>& answer, double ms);
void setHttpListener(HttpListener listener);

/// One call under way, redirects followed, on the event loop of the thread it lives on.
///
/// Ownership   Refers to the manager, which must outlive it. Destruction drops the call without a word.
/// Threads     One that has an event loop and is not the interface's.
/// Errors      Invalid (address), Unreadable (name, connection, TLS, timeout), TooLarge; each with what to
///             do. A status like 404 is an answer: see statusError.
class HttpFlight : public QObject {
    Q_OBJECT
public:
    HttpFlight(QNetworkAccessManager& manager, HttpCall call, QObject* parent = nullptr);
    ~HttpFlight() override;
    /// One that takes the proxy from the environment.
    static std::unique_ptr<QNetworkAccessManager> makeManager();
    void start();
    /// It turned while the call is under way.
    void setWeather(const Weather& weather) { call_.weather = weather; }
    /// What an error was, after `ended` told of one.
    enum class Fault : std::uint8_t {
        Unreachable, ///< nobody answers there
        Passing,     ///< the connection failed in a way that another try may mend
        Lasting,
    };
    Fault fault() const { return fault_; }

Q_SIGNALS:
    void progressed(qint64 bytes);
    /// The first one is empty: the answer has begun.
    void streamed(const QByteArray& bytes);
    void ended(const scorrere::Result<scorrere::render::HttpAnswer>& answer);

private:
    struct Dropper {
        void operator()(QNetworkReply* reply) const {
            reply->disconnect();
            reply->abort();
            reply->deleteLater();
        }
    };
    std::optional<Error> refusedAt(const QUrl& url) const;
    void throughWeather();
    void later(std::int64_t ms, void (HttpFlight::*does)());
    void deliver();
    void ask(const QUrl& url);
    void takeBytes();
    void finish();
    Result<HttpAnswer> takeAnswer(const QUrl& url);
    double nowMs() const { return static_cast<double>(clock_.nsecsElapsed()) / 1e6; }

    QNetworkAccessManager& manager_;
    HttpCall call_;
    QTimer weather_; ///< holds the call, or its answer, back
    std::int64_t putOffMs_ = 0;
    bool isLost_ = false;
    bool isFailed_ = false;
    std::optional<Result<HttpAnswer>> outcome_;
    std::unique_ptr<QNetworkReply, Dropper> reply_;
    QUrl first_;
    QElapsedTimer clock_;
    QByteArray body_;
    QList<QSslError> tls_;
    double connectedMs_ = -1;
    double sentMs_ = -1;
    double firstMs_ = -1;
    Fault fault_ = Fault::Lasting;
    int redirects_ = 0;
    bool tooLarge_ = false;
};

/// Asks once (GET), following redirects, and waits for the whole answer.
///
/// Threads     Any but the interface thread: blocks until the answer is there, an error, or `stop`. Runs an
///             event loop of the calling thread, which must not have one running. Connections are kept for
///             the thread's next call.
/// Errors      As HttpFlight; Cancelled.
Result<HttpAnswer> askHttp(const HttpCall& call, std::stop_token stop = {},
                           const std::function<void(std::int64_t bytes)>& progress = {});

/// Whether two addresses have scheme, host and port in common.
bool sameOrigin(const std::string& a, const std::string& b);

/// What a status other than success means, and what to do about it; nothing for 2xx.
std::optional<Error> statusError(const HttpAnswer& answer);

} // namespace scorrere::render
