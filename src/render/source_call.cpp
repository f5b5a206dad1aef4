// SPDX-License-Identifier: Apache-2.0
#include "render/source_call.h"

#include <QByteArray>
#include <algorithm>
#include <fmt/format.h>

namespace scorrere::render {

namespace {

HttpHeaders signature(const SignSpec& sign, const std::string& secret) {
    switch (sign.kind) {
    case SignSpec::Kind::Bearer:
        return {{"Authorization", fmt::format("Bearer {}", secret)}};
    case SignSpec::Kind::Basic:
        return {{"Authorization",
                 fmt::format("Basic {}", QByteArray::fromStdString(fmt::format("{}:{}", sign.user, secret))
                                             .toBase64()
                                             .toStdString())}};
    case SignSpec::Kind::Header:
        return {{sign.user, secret}};
    case SignSpec::Kind::None:
        break;
    }
    return {};
}

} // namespace

UriVariables sourceVariables(const SourceSpec& source) {
    UriVariables variables;
    const PageSpec& pages = source.pages;
    if (pages.style != PageStyle::None) {
        variables[pages.count] = fmt::format("{}", pages.size);
    }
    if (pages.style == PageStyle::Number) {
        variables[pages.from] = fmt::format("{}", pages.first);
    } else if (pages.style == PageStyle::Offset) {
        variables[pages.from] = fmt::format("{}", 0);
    }
    for (const auto& [name, value] : source.variables) {
        variables[name] = value;
    }
    return variables;
}

Result<std::string> expandedAddress(const std::string& address, const UriVariables& variables,
                                    const std::string& base) {
    auto made = UriTemplate::parse(address);
    if (!made) {
        return std::move(made.error());
    }
    std::string expanded = made->expand(variables);
    if (expanded.starts_with(kDemoScheme) && !base.empty()) {
        expanded = fmt::format("{}/{}", base, expanded.substr(std::string_view(kDemoScheme).size()));
    }
    return expanded;
}

HttpHeaders ownHeaders(const SourceSpec& source, const std::optional<std::string>& secret) {
    HttpHeaders headers = source.headers;
    if (secret) {
        std::ranges::move(signature(source.sign, *secret), std::back_inserter(headers));
    }
    return headers;
}

HttpCall callOf(const SourceSpec& source, const std::string& address,
                const std::optional<std::string>& secret) {
    HttpCall call;
    call.address = address;
    call.headers.emplace_back("Accept", acceptOf(source.reading.form));
    call.originHeaders = ownHeaders(source, secret);
    call.timeoutMs = source.timeoutMs;
    return call;
}

std::string acceptOf(SourceForm form) {
    return form == SourceForm::Csv   ? "text/csv"
           : form == SourceForm::Xml ? "application/xml, text/xml"
           : form == SourceForm::Json
               ? "application/json"
               : "application/json, application/x-ndjson;q=0.9, text/csv;q=0.8, */*;q=0.5";
}

SourceForm formOf(const std::string& contentType) {
    const auto has = [&contentType](const char* word) { return contentType.find(word) != std::string::npos; };
    return has("ndjson") || has("jsonl") ? SourceForm::Ndjson
           : has("csv")                  ? SourceForm::Csv
           : has("json")                 ? SourceForm::Json
           : has("xml") && !has("html")  ? SourceForm::Xml
                                         : SourceForm::Guess;
}

std::string masked(std::string text, const std::string& secret) {
    for (std::size_t at = text.find(secret); !secret.empty() && at != std::string::npos;
         at = text.find(secret, at)) {
        text.replace(at, secret.size(), "••••");
        at += std::string_view("••••").size();
    }
    return text;
}

} // namespace scorrere::render
