// SPDX-License-Identifier: Apache-2.0
#include "render/web_address.h"

#include <algorithm>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

int portOf(const QUrl& url) {
    return url.port(url.scheme() == QLatin1String("https") ? 443 : 80);
}

} // namespace

Result<QUrl> webAddress(const std::string& address, const QUrl& base) {
    QUrl url(QString::fromStdString(address), QUrl::StrictMode);
    if (url.isRelative() && base.isValid() && !base.isEmpty()) {
        url = base.resolved(url);
    }
    const auto refused = [&](std::string why, std::string advice) {
        return Error{
            ErrorCode::Invalid, fmt::format("\"{}\" {}", address.substr(0, 200), why), std::move(advice), {}};
    };
    const QString scheme = url.scheme();
    if (!url.isValid() ||
        (!scheme.isEmpty() && scheme != QLatin1String("http") && scheme != QLatin1String("https"))) {
        return refused("is not an address one can ask",
                       "It starts with http:// or https:// and a host, as in "
                       "https://example.org/sightings{?page}.");
    }
    if (scheme.isEmpty() || url.host().isEmpty()) {
        return refused("is not an address one can ask: it has no host",
                       "It starts with http:// or https:// and a host, as in "
                       "https://example.org/sightings{?page}.");
    }
    if (!url.userInfo().isEmpty()) {
        Error error{ErrorCode::Invalid,
                    "the address carries a name or a password",
                    "Leave them out; say who asks after \"signed\".",
                    {}};
        error.place.file = url.toDisplayString(QUrl::RemoveUserInfo).toStdString();
        return error;
    }
    return url;
}

std::string originOf(const QUrl& url) {
    const QString host = url.host();
    const std::string shown =
        host.contains(QLatin1Char(':')) ? fmt::format("[{}]", host.toStdString()) : host.toStdString();
    const int port = portOf(url);
    const bool usual = port == (url.scheme() == QLatin1String("https") ? 443 : 80);
    return fmt::format("{}://{}{}", url.scheme().toStdString(), shown, usual ? "" : fmt::format(":{}", port));
}

std::string originOf(const std::string& address) {
    const auto url = webAddress(address);
    return url ? originOf(*url) : std::string();
}

bool Access::mayAsk(const QUrl& url) const {
    return anyHost || std::ranges::find(origins, originOf(url)) != origins.end();
}

} // namespace scorrere::render
