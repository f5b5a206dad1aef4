// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"

#include <cstdint>
#include <string>
#include <vector>

namespace scorrere::workbench {

enum class LogLevel : std::uint8_t { Off, Error, Warning, Info, Debug };
/// "off", "error", "warning", "info", "debug"; Info for anything else.
LogLevel logLevelNamed(const std::string& name);

/// From now on what is told goes to `folder`/scorrere.log, which is put aside at a megabyte, twice. Once in a process, before
/// there are threads. A folder that cannot be written is no reason to stop: then only the last lines are kept, for a crash note.
void startLog(const std::string& folder, LogLevel level);
/// What was told so far is in the file; nothing more goes there.
void endLog();

/// What happened, in one line of program's words. Never holds contents of records, secrets, or texts that may.
///
/// Complexity  O(length); a thread of the log's own writes it.
/// Threads     Any.
void tellLog(LogLevel level, const std::string& line);

/// What an error is and where, without its words, which may quote what people's records say.
std::string withoutContents(const Error& error);
/// An address as the log may hold it: scheme, host and port; of the path how deep it is, of the query the names.
std::string withoutContents(const std::string& address);

/// The last lines that were told, the oldest first; at most kLastLines.
std::vector<std::string> lastLogLines();
inline constexpr std::size_t kLastLines = 200;

namespace detail {
/// The same without a lock or memory of its own, for a handler of signals.
void writeLastLogLines(int fd);
} // namespace detail

} // namespace scorrere::workbench
