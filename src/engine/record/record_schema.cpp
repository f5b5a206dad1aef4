// SPDX-License-Identifier: Apache-2.0
#include "engine/record/record_schema.h"

#include "engine/record/json_outline.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <set>

namespace scorrere {

namespace {

/// Whether times say which zone they are of, as far as was looked.
bool hasZones(const FieldProfile& profile) {
    const auto hasZone = [](const std::string& time) {
        const std::size_t clock = time.find_first_of("Tt ");
        return clock != std::string::npos && time.find_first_of("Zz+-", clock) != std::string::npos;
    };
    return hasZone(profile.smallest) && hasZone(profile.largest) &&
           std::ranges::all_of(profile.samples, hasZone);
}

const FieldChoice* choiceOf(const std::vector<FieldChoice>& choices, const std::string& name) {
    const auto found = std::ranges::find(choices, name, &FieldChoice::name);
    return found == choices.end() ? nullptr : &*found;
}

std::string schemaType(const FieldProfile& profile) {
    switch (profile.type) {
    case FieldType::Boolean:
        return R"("type": "boolean")";
    case FieldType::Integer:
        return R"("type": "integer")";
    case FieldType::Real:
        return R"("type": "number")";
    case FieldType::Time:
        // The standard behind "date-time" (RFC 3339) wants a zone.
        return profile.longest <= 10 ? R"("type": "string", "format": "date")"
               : hasZones(profile)   ? R"("type": "string", "format": "date-time")"
                                     : R"("type": "string")";
    case FieldType::Text:
        return R"("type": "string")";
    case FieldType::List:
        return R"("type": "array")";
    case FieldType::Object:
        return R"("type": "object")";
    case FieldType::Unknown:
        return R"("type": "null")";
    }
    return {};
}

bool isKeyword(const std::string& name) {
    static const std::set<std::string> words{"alignas",
                                             "alignof",
                                             "and",
                                             "asm",
                                             "auto",
                                             "bool",
                                             "break",
                                             "case",
                                             "catch",
                                             "char",
                                             "class",
                                             "concept",
                                             "const",
                                             "continue",
                                             "decltype",
                                             "default",
                                             "delete",
                                             "do",
                                             "double",
                                             "else",
                                             "enum",
                                             "explicit",
                                             "export",
                                             "extern",
                                             "false",
                                             "float",
                                             "for",
                                             "friend",
                                             "goto",
                                             "if",
                                             "inline",
                                             "int",
                                             "long",
                                             "mutable",
                                             "namespace",
                                             "new",
                                             "noexcept",
                                             "not",
                                             "nullptr",
                                             "operator",
                                             "or",
                                             "private",
                                             "protected",
                                             "public",
                                             "register",
                                             "requires",
                                             "return",
                                             "short",
                                             "signed",
                                             "sizeof",
                                             "static",
                                             "struct",
                                             "switch",
                                             "template",
                                             "this",
                                             "throw",
                                             "true",
                                             "try",
                                             "typedef",
                                             "typeid",
                                             "typename",
                                             "union",
                                             "unsigned",
                                             "using",
                                             "virtual",
                                             "void",
                                             "volatile",
                                             "while",
                                             "xor",
                                             "char8_t",
                                             "constexpr",
                                             "consteval",
                                             "constinit",
                                             "co_await",
                                             "co_return",
                                             "co_yield",
                                             "static_cast",
                                             "const_cast",
                                             "dynamic_cast",
                                             "reinterpret_cast",
                                             "static_assert",
                                             "thread_local",
                                             "wchar_t",
                                             "char16_t",
                                             "char32_t",
                                             "bitand",
                                             "bitor",
                                             "compl",
                                             "and_eq",
                                             "or_eq",
                                             "xor_eq",
                                             "not_eq"};
    return words.contains(name);
}

std::string identifier(const std::string& name, std::set<std::string>& taken) {
    std::string made;
    for (const char c : name) {
        const bool plain =
            std::isalnum(static_cast<unsigned char>(c)) != 0 && static_cast<unsigned char>(c) < 0x80;
        if (plain) {
            made += c;
        } else if (!made.empty() && made.back() != '_') {
            made += '_'; // never two in a row: such names are reserved
        }
    }
    if (made.empty() || std::isdigit(static_cast<unsigned char>(made[0])) != 0) {
        made = "field" + (made.empty() ? std::string() : "_" + made);
    }
    if (isKeyword(made)) {
        made += made.ends_with('_') ? "value" : "_value";
    }
    const std::string plain = made;
    for (int copy = 2; !taken.insert(made).second; ++copy) {
        made = fmt::format("{}_{}", plain, copy);
    }
    return made;
}

std::string cppType(FieldType type) {
    switch (type) {
    case FieldType::Boolean:
        return "bool";
    case FieldType::Integer:
        return "std::int64_t";
    case FieldType::Real:
        return "double";
    default:
        return "std::string";
    }
}

std::string comment(const FieldProfile& profile, const FieldChoice* choice) {
    std::string text;
    if (choice != nullptr && !choice->title.empty()) {
        text = choice->title;
    }
    const auto add = [&text](const std::string& more) { text += (text.empty() ? "" : "; ") + more; };
    if (profile.type == FieldType::Time) {
        add("a date or time, ISO 8601");
    } else if (profile.type == FieldType::List) {
        add("a JSON array");
    } else if (profile.type == FieldType::Object) {
        add("a JSON object");
    }
    std::ranges::replace(text, '\n', ' ');
    std::ranges::replace(text, '\\', '/'); // a comment must not go on in the next line
    return text.empty() ? "" : " ///< " + text;
}

} // namespace

std::string recordSchema(const std::string& title, const std::vector<FieldProfile>& profiles,
                         const std::vector<FieldChoice>& choices) {
    std::string properties;
    std::string required;
    for (const FieldProfile& profile : profiles) {
        const FieldChoice* choice = choiceOf(choices, profile.name);
        if (choice != nullptr && (choice->leftOut || !choice->path.empty())) {
            continue;
        }
        std::string description;
        if (choice != nullptr && !choice->title.empty()) {
            description = fmt::format(", \"title\": {}", quotedJson(choice->title));
        }
        // A chosen type tells how a value is read, not how it is written: only what was seen is promised.
        const bool chosen = choice != nullptr && choice->type != FieldType::Unknown;
        properties +=
            fmt::format("{}    {}: {{ {}{} }}", properties.empty() ? "" : ",\n", quotedJson(profile.name),
                        chosen ? R"("description": "read as )" + std::string(typeName(profile.type)) + "\""
                               : schemaType(profile),
                        description);
        if (profile.records > 0 && profile.present == profile.records) {
            required += (required.empty() ? "" : ", ") + quotedJson(profile.name);
        }
    }
    return fmt::format(
        "{{\n  \"$schema\": \"https://json-schema.org/draft/2020-12/schema\",\n  \"title\": {},\n"
        "  \"type\": \"object\",\n  \"required\": [{}],\n  \"properties\": {{\n{}\n  }}\n}}\n",
        quotedJson(title), required, properties);
}

std::string recordType(const std::string& name, const std::vector<FieldProfile>& profiles,
                       const std::vector<FieldChoice>& choices) {
    std::set<std::string> taken;
    const std::string type = identifier(name.empty() ? "Record" : name, taken);
    std::string members;
    for (const FieldProfile& profile : profiles) {
        const std::string plain = cppType(profile.type);
        const bool always = profile.records > 0 && profile.present == profile.records;
        members +=
            fmt::format("    {} {}{};{}\n", always ? plain : "std::optional<" + plain + ">",
                        identifier(profile.name, taken),
                        always && plain != "std::string" ? (plain == "bool" ? " = false" : " = 0") : "",
                        comment(profile, choiceOf(choices, profile.name)));
    }
    return fmt::format("#include <cstdint>\n#include <optional>\n#include <string>\n\nstruct {} {{\n{}}};\n",
                       type, members);
}

} // namespace scorrere
