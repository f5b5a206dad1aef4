// SPDX-License-Identifier: Apache-2.0
// Reading a JSON document member by member with located errors: an implementation header of document/.
#pragma once

#include "engine/base/result.h"
#include "engine/extent/length.h"

#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace scorrere {

using Json = nlohmann::ordered_json;

/// Text and line, column of a JSON Pointer in it, as far as it can be followed.
Place placeOfPointer(std::string_view text, const std::string& pointer, const std::string& file);
/// Reads a whole JSON file of at most `maxBytes`.
Result<std::string> readTextFile(const std::string& path, std::size_t maxBytes);
/// JSON with the line and column of what is wrong with it.
Result<Json> parseJson(std::string_view text, const std::string& file);

/// Reads members of one JSON object; the first error is kept and everything after it gives defaults.
class Members {
public:
    Members(const Json& object, std::string pointer, std::optional<Error>& error);

    bool has(const char* name) const { return object_.is_object() && object_.contains(name); }
    std::string text(const char* name, std::string otherwise = {});
    std::optional<std::string> optionalText(const char* name);
    double number(const char* name, double otherwise, double lowest, double highest);
    std::int64_t whole(const char* name, std::int64_t otherwise, std::int64_t lowest, std::int64_t highest);
    bool yesNo(const char* name, bool otherwise);
    std::optional<Length> length(const char* name);
    std::vector<double> numbers(const char* name, double lowest, double highest);
    template <typename T>
    T oneOf(const char* name, T otherwise, const std::vector<std::pair<const char*, T>>& choices) {
        std::string names;
        const std::string given = text(name);
        for (const auto& [word, value] : choices) {
            if (given == word) {
                return value;
            }
            names += (names.empty() ? "" : ", ") + std::string(word);
        }
        if (has(name)) {
            fail(name, "\"" + given + "\" is not one of its values", "Choose one of: " + names + ".");
        }
        return otherwise;
    }
    const Json* member(const char* name);
    std::string pointerTo(const char* name) const { return pointer_ + "/" + name; }
    void fail(const char* name, std::string message, std::string advice, ErrorCode code = ErrorCode::Invalid);
    /// The members nobody asked for, as pointers.
    std::vector<std::string> unknown() const;

private:
    void wrongType(const char* name, const char* wanted);

    const Json& object_;
    std::string pointer_;
    std::optional<Error>& error_;
    std::set<std::string> asked_;
};

} // namespace scorrere
