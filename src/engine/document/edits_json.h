// SPDX-License-Identifier: Apache-2.0
// Edits of records in a collection file: an implementation header of document/.
#pragma once

#include "engine/document/json_check.h"
#include "engine/document/send_spec.h"
#include "engine/edit/record_edit.h"

namespace scorrere {

/// The collection's member "edits"; none where there is none.
RecordEdits readEdits(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown);
/// One, from its own members.
RecordEdit readEdit(Members& members);
/// Puts them in place, or takes the member away where there are none.
void writeEdits(Json& json, const RecordEdits& edits);

/// The collection's member "send": how a service is told of edits.
SendSpec readSend(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown);
void writeSend(Json& json, const SendSpec& send);

} // namespace scorrere
