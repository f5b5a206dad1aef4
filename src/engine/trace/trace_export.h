// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/trace/trace.h"

#include <string>

namespace scorrere {

/// The kept frames in the Trace Event format (JSON object form): one complete event a phase, counters beside.
std::string toTraceEventJson(const Trace& trace);
/// The kept frames as CSV (RFC 4180), one line a frame; costs in microseconds, lengths in px.
std::string toCsv(const Trace& trace);

} // namespace scorrere
