// SPDX-License-Identifier: Apache-2.0
#include "engine/document/json_check.h"

#include "engine/base/nesting.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <simdjson.h>

namespace scorrere {

namespace {

Place placeAt(std::string_view text, std::size_t offset, const std::string& file) {
    const std::string_view before = text.substr(0, std::min(offset, text.size()));
    Place place;
    place.file = file;
    place.line = std::count(before.begin(), before.end(), '\n') + 1;
    const std::size_t lineStart = before.rfind('\n');
    place.column = static_cast<std::int64_t>(lineStart == std::string_view::npos ? before.size() + 1
                                                                                 : before.size() - lineStart);
    return place;
}

std::string shortened(const Json& value) {
    std::string text = value.dump(-1, ' ', false, Json::error_handler_t::replace);
    return text.size() > 40 ? text.substr(0, 37) + "..." : text;
}

} // namespace

Place placeOfPointer(std::string_view text, const std::string& pointer, const std::string& file) {
    // A member that is missing is placed at the object that should hold it.
    const simdjson::padded_string padded(text);
    simdjson::ondemand::parser parser;
    for (std::string at = pointer;; at = at.substr(0, at.rfind('/'))) {
        simdjson::ondemand::document document;
        std::string_view token;
        if (parser.iterate(padded).get(document) == simdjson::SUCCESS) {
            simdjson::ondemand::value value;
            if (!at.empty() && document.at_pointer(at).get(value) == simdjson::SUCCESS) {
                token = value.raw_json_token();
            }
        }
        if (!token.empty() || at.empty()) {
            Place place = placeAt(
                text, token.empty() ? 0 : static_cast<std::size_t>(token.data() - padded.data()), file);
            place.pointer = pointer;
            return place;
        }
    }
}

Result<std::string> readTextFile(const std::string& path, std::size_t maxBytes) {
    Place place;
    place.file = path;
    std::error_code failed;
    const auto status = std::filesystem::status(path, failed);
    if (!std::filesystem::exists(status)) {
        return Error{ErrorCode::NotFound, "there is no such file", "Check the path.", place};
    }
    if (!std::filesystem::is_regular_file(status)) {
        return Error{ErrorCode::Unreadable, "this is not a file", "Choose a collection file.", place};
    }
    const auto size = std::filesystem::file_size(path, failed);
    if (!failed && size > maxBytes) {
        return Error{
            ErrorCode::TooLarge,
            fmt::format("it is {} MiB; a file of this kind holds at most {}", size >> 20, maxBytes >> 20),
            "Records belong in a file of their own, named as the collection's source.", place};
    }
    std::ifstream in(path, std::ios::binary);
    std::string text(std::istreambuf_iterator<char>(in), {});
    if (!in) {
        return Error{ErrorCode::Unreadable, "it cannot be opened for reading", "Check its permissions.",
                     place};
    }
    return text;
}

Result<Json> parseJson(std::string_view text, const std::string& file) {
    if (const std::size_t at = tooDeepAt(text); at != std::string_view::npos) {
        return Error{ErrorCode::TooLarge, fmt::format("it nests more than {} deep", kMaxNesting),
                     "Look for brackets that are not closed.", placeAt(text, at, file)};
    }
    try {
        return Json::parse(text);
    } catch (const Json::out_of_range&) {
        return Error{ErrorCode::Syntax,
                     "this is not JSON that can be read: a number in it is beyond all measure",
                     "Look for a number like 1e999.", placeAt(text, 0, file)};
    } catch (const Json::parse_error& problem) {
        std::string what = problem.what();
        const std::size_t colon = what.find(": ", what.find("column"));
        what = colon == std::string::npos ? what : what.substr(colon + 2);
        return Error{ErrorCode::Syntax, "this is not JSON: " + what.substr(0, 160),
                     "Mend the file at that place.",
                     placeAt(text, problem.byte == 0 ? 0 : problem.byte - 1, file)};
    }
}

Members::Members(const Json& object, std::string pointer, std::optional<Error>& error)
    : object_(object), pointer_(std::move(pointer)), error_(error) {
    if (!object.is_object() && !error_) {
        error_ = Error{ErrorCode::Invalid,
                       fmt::format("expected an object, found {}", shortened(object)),
                       "Write members in braces.",
                       {}};
        error_->place.pointer = pointer_;
    }
}

const Json* Members::member(const char* name) {
    asked_.insert(name);
    return has(name) ? &object_.at(name) : nullptr;
}

void Members::fail(const char* name, std::string message, std::string advice, ErrorCode code) {
    if (!error_) {
        error_ = Error{code, std::move(message), std::move(advice), {}};
        error_->place.pointer = pointerTo(name);
    }
}

void Members::wrongType(const char* name, const char* wanted) {
    fail(name, fmt::format("\"{}\" must be {}, but is {}", name, wanted, shortened(object_.at(name))),
         fmt::format("Give {}.", wanted));
}

std::string Members::text(const char* name, std::string otherwise) {
    return optionalText(name).value_or(std::move(otherwise));
}

std::optional<std::string> Members::optionalText(const char* name) {
    const Json* value = member(name);
    if (value == nullptr) {
        return std::nullopt;
    }
    if (!value->is_string()) {
        wrongType(name, "a text");
        return std::nullopt;
    }
    return value->get<std::string>();
}

double Members::number(const char* name, double otherwise, double lowest, double highest) {
    const Json* value = member(name);
    if (value == nullptr) {
        return otherwise;
    }
    if (!value->is_number()) {
        wrongType(name, "a number");
        return otherwise;
    }
    const double given = value->get<double>();
    if (!(given >= lowest && given <= highest)) {
        fail(name, fmt::format("\"{}\" is {}", name, given),
             fmt::format("Give a number from {} to {}.", lowest, highest));
        return otherwise;
    }
    return given;
}

std::int64_t Members::whole(const char* name, std::int64_t otherwise, std::int64_t lowest,
                            std::int64_t highest) {
    const double given = number(name, static_cast<double>(otherwise), static_cast<double>(lowest),
                                static_cast<double>(highest));
    if (given != std::floor(given)) {
        wrongType(name, "a whole number");
        return otherwise;
    }
    return static_cast<std::int64_t>(given);
}

bool Members::yesNo(const char* name, bool otherwise) {
    const Json* value = member(name);
    if (value != nullptr && !value->is_boolean()) {
        wrongType(name, "true or false");
        return otherwise;
    }
    return value == nullptr ? otherwise : value->get<bool>();
}

std::optional<Length> Members::length(const char* name) {
    if (member(name) == nullptr) {
        return std::nullopt;
    }
    return Length::fromPx(number(name, 0, 0, 100'000));
}

std::vector<double> Members::numbers(const char* name, double lowest, double highest) {
    const Json* value = member(name);
    if (value == nullptr) {
        return {};
    }
    if (value->is_number()) {
        return {number(name, 0, lowest, highest)};
    }
    std::vector<double> all;
    bool good = value->is_array();
    for (const Json& one : good ? *value : Json::array()) {
        good = good && one.is_number() && one.get<double>() >= lowest && one.get<double>() <= highest;
        all.push_back(good ? one.get<double>() : 0);
    }
    if (!good) {
        wrongType(name, fmt::format("a number or a list of numbers from {} to {}", lowest, highest).c_str());
        return {};
    }
    return all;
}

std::vector<std::string> Members::unknown() const {
    std::vector<std::string> found;
    for (const auto& [name, value] : object_.items()) {
        if (object_.is_object() && !asked_.contains(name)) {
            found.push_back(pointer_ + "/" + name);
        }
    }
    return found;
}

} // namespace scorrere
