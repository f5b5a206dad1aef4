// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/source_spec.h"
#include "engine/record/uri_template.h"
#include "render/http_call.h"

namespace scorrere::render {

/// Addresses that begin so mean the demo service, wherever it is.
inline constexpr const char* kDemoScheme = "demo:/";

/// What the variables of a source's address stand for at its first page.
UriVariables sourceVariables(const SourceSpec& source);
/// The address as it is asked: the template expanded; demo:/ stays when `base` is empty.
/// Errors: Syntax with the column.
Result<std::string> expandedAddress(const std::string& address, const UriVariables& variables,
                                    const std::string& base);
/// What only the source's own origin is told: the headers that the document gives, and its signature.
HttpHeaders ownHeaders(const SourceSpec& source, const std::optional<std::string>& secret);
/// A call with what the source accepts, and its own headers, which no redirect takes elsewhere. For an
/// address that is not the source's own, take `originHeaders` out.
HttpCall callOf(const SourceSpec& source, const std::string& address,
                const std::optional<std::string>& secret);
std::string acceptOf(SourceForm form);
/// The form that a Content-Type stands for.
SourceForm formOf(const std::string& contentType);
/// Replaces every occurrence of a secret by dots.
std::string masked(std::string text, const std::string& secret);

} // namespace scorrere::render
