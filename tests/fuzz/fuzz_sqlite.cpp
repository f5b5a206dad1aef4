// SPDX-License-Identifier: GPL-3.0-or-later
//
// A database file, sound or not; it is read from a file in memory.
#include "fuzz.h"

#include <string>
#include <sys/mman.h>
#include <unistd.h>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace scorrere;
    const int fd = ::memfd_create("fuzz", 0);
    if (fd < 0 || ::write(fd, data, size) != static_cast<ssize_t>(size)) {
        return -1;
    }
    ReadOptions options;
    options.form = SourceForm::Sqlite;
    const auto reading = readRecordsFile("/proc/self/fd/" + std::to_string(fd), options, {}, {});
    ::close(fd);
    return reading || !reading.error().message.empty() ? 0 : (std::abort(), 0);
}
