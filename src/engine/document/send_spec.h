// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/edit/record_edit.h"

#include <optional>
#include <string>

namespace scorrere {

/// How a service is told of an edit.
struct SendRule {
    std::string method;  ///< PATCH, PUT, POST or DELETE
    std::string address; ///< URI template (RFC 6570) of the record's fields, and of key, field and value
    /// JSON, in which a text that is a name in braces stands for that value, and any other for its text; `{record}` is the
    /// record. Empty: what the kind of edit has as a rule.
    std::string body;
    bool isGiven() const { return !address.empty(); }
    bool operator==(const SendRule&) const = default;
};

struct SendSpec {
    SendRule set{"PATCH", {}, {}};
    SendRule insert{"POST", {}, {}};
    SendRule remove{"DELETE", {}, {}};
    const SendRule& of(RecordEdit::Kind kind) const;
    bool operator==(const SendSpec&) const = default;
};

/// A call that tells of an edit.
struct EditRequest {
    std::string method;
    std::string address; ///< expanded
    std::string body;    ///< empty: none
    std::string contentType;
};

/// The call for an edit. `record`: what is edited, as JSON; of an insertion what is inserted. Without a body given, a
/// value is set by JSON Merge Patch (RFC 7396), and a record is sent as it is.
/// Errors: Invalid where the collection does not say how, Syntax of the address or the body.
Result<EditRequest> requestOf(const SendSpec& spec, const RecordEdit& edit, const std::string& key,
                              const std::string& record);

/// The call of a rule for a record, whatever it is to tell. Without a body given, none is sent.
/// Errors: Syntax of the address or the body.
Result<EditRequest> requestOf(const SendRule& rule, const std::string& key, const std::string& record);

/// Why that is no body; nothing: it is one.
std::optional<Error> faultOfBody(const std::string& body);

} // namespace scorrere
