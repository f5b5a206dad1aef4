// SPDX-License-Identifier: Apache-2.0
//
// The content goes to a file without a name (O_TMPFILE), which is given one only when it is on the disk and
// is renamed at once: a program that is killed leaves nothing behind but, in that instant, one file of a name
// that the next save takes away. File systems that know no such files get an ordinary one of that name.
#include "engine/document/safe_file.h"

#include "engine/base/fnv.h"

#include <array>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace scorrere {

namespace {

namespace fs = std::filesystem;

constexpr std::string_view kBeside = ".scorrere-"; ///< .NAME.scorrere-PID-N

class Descriptor {
public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() { close(); }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    int get() const { return fd_; }
    bool close() {
        const bool closed = fd_ < 0 || ::close(fd_) == 0;
        fd_ = -1;
        return closed;
    }

private:
    int fd_;
};

bool writeAll(int fd, std::string_view content) {
    while (!content.empty()) {
        const ssize_t written = ::write(fd, content.data(), content.size());
        if (written < 0 && errno != EINTR) {
            return false;
        }
        content.remove_prefix(static_cast<std::size_t>(std::max<ssize_t>(written, 0)));
    }
    return true;
}

/// What a killed program left beside the file; others' are left alone.
void removeLeftOvers(const fs::path& target) {
    std::error_code failed;
    const std::string prefix = "." + target.filename().string() + std::string(kBeside);
    for (const auto& entry : fs::directory_iterator(target.parent_path(), failed)) {
        const std::string name = entry.path().filename().string();
        if (name.starts_with(prefix)) {
            const long pid = std::strtol(name.c_str() + prefix.size(), nullptr, 10);
            if (pid > 0 && ::kill(static_cast<pid_t>(pid), 0) != 0 && errno == ESRCH) {
                std::error_code ignored;
                fs::remove(entry.path(), ignored);
            }
        }
    }
}

/// Where a path leads in the end, also where nothing is yet.
fs::path targetOf(const std::string& path) {
    fs::path target = fs::absolute(path);
    std::error_code failed;
    for (int links = 0; links < 40 && fs::is_symlink(target, failed); ++links) {
        const fs::path to = fs::read_symlink(target, failed);
        target = to.is_absolute() ? to : target.parent_path() / to;
    }
    return target;
}

} // namespace

FileMark FileMark::of(std::string_view content) {
    Fnv hash;
    hash.add(content);
    return {hash.value(), content.size()};
}

Outcome writeFileSafely(const std::string& path, std::string_view content,
                        const std::optional<FileMark>& known) {
    Place place;
    place.file = path;
    const auto refused = [&place](ErrorCode code, std::string what, std::string advice) {
        return Error{code, std::move(what), std::move(advice), place};
    };
    const auto cannot = [&](int error) {
        return refused(ErrorCode::Unwritable, fmt::format("it cannot be written: {}", std::strerror(error)),
                       "Check the folder and the space left on the disk.");
    };
    const fs::path target = targetOf(path);
    const std::string folder = target.parent_path().string();
    struct stat before {};
    const bool isThere = ::stat(target.c_str(), &before) == 0;
    if (isThere && !S_ISREG(before.st_mode)) {
        return refused(ErrorCode::Unwritable, "it is not a file", "Save it elsewhere.");
    }
    // The mode, too: whoever may write everything should not write what was made read-only.
    if (isThere && ((before.st_mode & 0222) == 0 || ::access(target.c_str(), W_OK) != 0)) {
        return refused(ErrorCode::Unwritable, "it is read-only", "Save it elsewhere, or let it be written.");
    }
    if (isThere && known) {
        std::ifstream in(target, std::ios::binary);
        const std::string found(std::istreambuf_iterator<char>(in), {});
        if (FileMark::of(found) != *known && found != content) {
            return refused(ErrorCode::Changed, "another program changed it meanwhile",
                           "Take theirs, keep yours, or save yours beside it.");
        }
    }
    removeLeftOvers(target);
    const mode_t mode = isThere ? before.st_mode & 07777 : 0666;
    static int number = 0;
    const std::string beside =
        fmt::format("{}/.{}{}{}-{}", folder, target.filename().string(), kBeside, ::getpid(), ++number);
    bool isNamed = false;
    int fd = ::open(folder.c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, mode);
    if (fd < 0) {
        fd = ::open(beside.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, mode);
        isNamed = true;
    }
    Descriptor file(fd);
    if (fd < 0) {
        return cannot(errno);
    }
    const auto giveUp = [&] {
        const int error = errno;
        if (isNamed) {
            ::unlink(beside.c_str());
        }
        return cannot(error);
    };
    if (isThere) {
        (void)!::fchown(fd, before.st_uid, before.st_gid); // as far as one may
        if (::fchmod(fd, mode) != 0) {
            return giveUp();
        }
    }
    if (!writeAll(fd, content) || ::fsync(fd) != 0) {
        return giveUp();
    }
    if (!isNamed) {
        const std::string opened = fmt::format("/proc/self/fd/{}", fd);
        if (::linkat(AT_FDCWD, opened.c_str(), AT_FDCWD, beside.c_str(), AT_SYMLINK_FOLLOW) != 0) {
            return giveUp();
        }
        isNamed = true;
    }
    if (!file.close() || ::rename(beside.c_str(), target.c_str()) != 0) {
        return giveUp();
    }
    const Descriptor directory(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    (void)::fsync(directory.get()); // the name, too, is on the disk
    return done();
}

} // namespace scorrere
