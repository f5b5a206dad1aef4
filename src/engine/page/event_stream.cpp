// SPDX-License-Identifier: Apache-2.0
#include "engine/page/event_stream.h"

#include <charconv>
#include <utility>

namespace scorrere {

std::vector<StreamEvent> EventStream::feed(std::string_view bytes) {
    std::vector<StreamEvent> events;
    for (const char c : bytes) {
        if (std::exchange(afterReturn_, c == '\r') && c == '\n') {
            continue;
        }
        if (c != '\n' && c != '\r') {
            if (line_.size() + data_.size() < kMostBytes) {
                line_ += c;
            } else {
                isTooLong_ = true;
            }
            continue;
        }
        std::string_view line = line_;
        if (std::exchange(isStart_, false) && line.starts_with("\xEF\xBB\xBF")) {
            line.remove_prefix(3);
        }
        takeLine(line, events);
        line_.clear();
    }
    return events;
}

void EventStream::takeLine(std::string_view line, std::vector<StreamEvent>& events) {
    if (line.empty()) {
        lastId_ = id_.empty() ? lastId_ : id_;
        if (isTooLong_) {
            ++passedOver_;
        } else if (hasData_) {
            data_.pop_back(); // the line end after the last line
            events.push_back({lastId_, type_.empty() ? "message" : type_, data_});
        }
        type_.clear();
        data_.clear();
        hasData_ = isTooLong_ = false;
        return;
    }
    const std::size_t colon = line.find(':');
    const std::string_view name = line.substr(0, colon);
    std::string_view value = colon == std::string_view::npos ? std::string_view() : line.substr(colon + 1);
    if (value.starts_with(' ')) {
        value.remove_prefix(1);
    }
    if (name == "data") {
        data_ += value;
        data_ += '\n';
        hasData_ = true;
    } else if (name == "event") {
        type_ = value;
    } else if (name == "id" && value.find('\0') == std::string_view::npos) {
        id_ = value;
    } else if (name == "retry") {
        std::int64_t ms = 0;
        const auto [end, failed] = std::from_chars(value.data(), value.data() + value.size(), ms);
        if (failed == std::errc() && end == value.data() + value.size() && ms >= 0) {
            retryMs_ = ms;
        }
    }
}

void EventStream::restart() {
    line_.clear();
    type_.clear();
    data_.clear();
    id_.clear();
    hasData_ = isTooLong_ = afterReturn_ = false;
    isStart_ = true;
}

} // namespace scorrere
