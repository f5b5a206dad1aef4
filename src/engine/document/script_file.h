// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/base/result.h"
#include "engine/run/script.h"

namespace scorrere {

/// Reads a script file (`NAME.script.json`): a list of timed gestures and events.
/// Errors: Syntax with line and column; Version; Invalid with the step's JSON Pointer, line and column.
Result<Script> parseScript(const std::string& text, const std::string& path);
Result<Script> loadScript(const std::string& path);

} // namespace scorrere
