// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"

#include <QUrl>
#include <string>
#include <vector>

namespace scorrere::render {

/// The one rule for every address that is asked, whoever names it: the source, a redirect, the next page, a
/// Link header, a picture, the live stream. http and https with a host, and no name or password in it.
/// `base`: what a relative one starts from.
/// Errors: Invalid, with what is wrong with it.
Result<QUrl> webAddress(const std::string& address, const QUrl& base = {});

/// Scheme, host and port, as "https://example.org" or "http://[::1]:8080"; a scheme's own port is left out.
std::string originOf(const QUrl& url);
/// The same of a text; empty when it is no web address.
std::string originOf(const std::string& address);

/// Which hosts the calls of one collection may go to.
struct Access {
    bool anyHost = true;
    std::vector<std::string> origins; ///< unless any
    bool mayAsk(const QUrl& url) const;
};

} // namespace scorrere::render
