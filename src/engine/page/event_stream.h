// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

struct StreamEvent {
    std::string id;   ///< the last one told, by this event or an earlier one
    std::string type; ///< "message" when it has none
    std::string data;
    bool operator==(const StreamEvent&) const = default;
};

/// Cuts a stream of bytes into Server-Sent Events (WHATWG HTML, 9.2.6).
///
/// Complexity  O(bytes). Keeps at most one event of kMostBytes; a longer one is passed over.
/// Threads     One thread.
class EventStream {
public:
    static constexpr std::size_t kMostBytes = std::size_t{4} << 20;

    /// The events that end within these bytes.
    std::vector<StreamEvent> feed(std::string_view bytes);
    /// What to send as Last-Event-ID when the connection is made again.
    const std::string& lastId() const { return lastId_; }
    void setLastId(std::string id) { lastId_ = std::move(id); }
    /// How long the service wants one to wait before that, ms; nothing: it did not say.
    std::optional<std::int64_t> retryMs() const { return retryMs_; }
    /// The connection ended: what was not finished is dropped.
    void restart();
    /// Events that were longer than is kept.
    std::int64_t passedOver() const { return passedOver_; }

private:
    void takeLine(std::string_view line, std::vector<StreamEvent>& events);

    std::string line_;
    std::string type_;
    std::string data_;
    std::string id_;
    std::string lastId_;
    std::optional<std::int64_t> retryMs_;
    std::int64_t passedOver_ = 0;
    bool hasData_ = false;
    bool isTooLong_ = false;
    bool afterReturn_ = false; ///< the last byte was a CR: an LF now belongs to it
    bool isStart_ = true;      ///< a byte order mark may come
};

} // namespace scorrere
