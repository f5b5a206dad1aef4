// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <cstdint>
#include <functional>
#include <optional>
#include <stop_token>
#include <string>
#include <utility>
#include <vector>

namespace scorrere::render {

using HttpHeaders = std::vector<std::pair<std::string, std::string>>;

struct HttpCall {
    std::string address;
    HttpHeaders headers;
    HttpHeaders secretHeaders; ///< sent to the address's own origin only, never after a redirect elsewhere
    std::int64_t timeoutMs = 15'000;                ///< without a byte moving
    std::int64_t maxBytes = std::int64_t{64} << 20; ///< of the body, unpacked
};

struct HttpAnswer {
    std::string address; ///< the one that answered, after redirects
    int redirects = 0;
    int status = 0;
    std::string reason;
    HttpHeaders headers;
    double connectMs = 0;  ///< until the connection stands, with TLS
    double waitMs = 0;     ///< from the request being sent to the first byte
    double transferMs = 0; ///< from the first byte to the last
    std::string body;      ///< unpacked
    std::string charset;   ///< as the Content-Type header says; empty: it does not
    std::string cutOff;    ///< why the body is not whole; empty: it is

    /// The first header of that name, whatever its case; empty when there is none.
    std::string header(const std::string& name) const;
};

/// Asks once (GET), following redirects, and waits for the whole answer.
///
/// Threads     Any but the interface thread: blocks until the answer is there, an error, or `stop`. Runs an
///             event loop of the calling thread, which must not have one running.
/// Errors      Invalid (address), Unreadable (name, connection, TLS, timeout), TooLarge, Cancelled; each with
///             what to do. A status like 404 is an answer: see statusError.
Result<HttpAnswer> askHttp(const HttpCall& call, std::stop_token stop = {},
                           const std::function<void(std::int64_t bytes)>& progress = {});

/// What a status other than success means, and what to do about it; nothing for 2xx.
std::optional<Error> statusError(const HttpAnswer& answer);

} // namespace scorrere::render
