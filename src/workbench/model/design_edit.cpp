// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/design_edit.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <fmt/format.h>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

constexpr std::array<const char*, 4> kBoxes{"row", "column", "over", "wrap"};
constexpr std::array<PartType, 14> kTypes{
    PartType::Text, PartType::Picture, PartType::Badge, PartType::Meter,  PartType::Scale,
    PartType::Line, PartType::Space,   PartType::Row,   PartType::Column, PartType::Over,
    PartType::Wrap, PartType::Repeat,  PartType::Strip, PartType::Piece};

} // namespace

std::string boxWord(const Json& part) {
    for (const char* word : kBoxes) {
        if (part.is_object() && part.contains(word)) {
            return word;
        }
    }
    return {};
}

std::string partWordOf(const Json& part) {
    for (const PartType type : kTypes) {
        if (part.is_object() && part.contains(partWord(type))) {
            return partWord(type);
        }
    }
    return {};
}

Json newPart(PartType type, const std::string& field) {
    switch (type) {
    case PartType::Text:
        return {{"text", field.empty() ? "text" : "{" + field + "}"}};
    case PartType::Badge:
        return {{"badge", field.empty() ? "badge" : "{" + field + "}"}};
    case PartType::Picture:
        return {{"picture", field.empty() ? "picture" : "{" + field + "}"}, {"width", 48}, {"height", 48}};
    case PartType::Meter:
        return {{"meter", field}, {"from", 0}, {"to", 100}};
    case PartType::Scale:
        return {{"scale", field}};
    case PartType::Line:
        return {{"line", 1}};
    case PartType::Space:
        return {{"space", 8}};
    case PartType::Repeat:
        return {{"repeat", field}, {"part", {{"badge", "{entry}"}}}, {"gap", 4}};
    case PartType::Strip:
        return {{"strip", field},
                {"part", {{"badge", "{entry}"}}},
                {"height", 40},
                {"arrangement", {{"list", {{"gap", 8}, {"sideways", {{"most", 240}}}}}}}};
    case PartType::Piece:
        return {{"piece", field}};
    default:
        return {{partWord(type), Json::array({{{"text", "text"}}})}, {"gap", 4}};
    }
}

DesignDraft::DesignDraft(const std::string& text) : json_(Json::parse(text, nullptr, false)) {
    if (json_.is_discarded()) {
        json_ = Json::object();
    }
}

Json* DesignDraft::at(const std::string& pointer) {
    try {
        const Json::json_pointer place(pointer);
        return json_.contains(place) ? &json_.at(place) : nullptr;
    } catch (const Json::exception&) {
        return nullptr; // names nothing: not a pointer
    }
}

const Json* DesignDraft::part(const std::string& pointer) const {
    return const_cast<DesignDraft*>(this)->at(pointer);
}

Json DesignDraft::member(const std::string& pointer, const std::string& name) const {
    const Json* found = part(pointer);
    return found != nullptr && found->is_object() && found->contains(name) ? found->at(name) : Json();
}

bool DesignDraft::set(const std::string& pointer, const std::string& name, const Json& value) {
    Json* found = at(pointer);
    if (found == nullptr || !found->is_object()) {
        return false;
    }
    if (value.is_null()) {
        found->erase(name);
    } else {
        (*found)[name] = value;
    }
    return true;
}

std::optional<DesignDraft::Standing> DesignDraft::standingOf(const std::string& pointer) {
    const std::size_t last = pointer.rfind('/');
    if (last == std::string::npos || last == 0) {
        return std::nullopt;
    }
    const std::size_t before = pointer.rfind('/', last - 1);
    if (before == std::string::npos) {
        return std::nullopt;
    }
    Standing standing{pointer.substr(0, before), pointer.substr(before + 1, last - before - 1), 0};
    const std::string digits = pointer.substr(last + 1);
    const auto read = std::from_chars(digits.data(), digits.data() + digits.size(), standing.place);
    const bool whole = read.ec == std::errc() && read.ptr == digits.data() + digits.size();
    if (!whole || std::ranges::find(kBoxes, standing.word) == kBoxes.end()) {
        return std::nullopt;
    }
    return standing;
}

Json* DesignDraft::childrenOf(const std::string& box) {
    Json* found = at(box);
    const std::string word = found == nullptr ? std::string() : boxWord(*found);
    return word.empty() ? nullptr : &(*found)[word];
}

std::string DesignDraft::insert(const std::string& box, std::size_t place, const Json& part) {
    Json* children = childrenOf(box);
    if (children == nullptr) {
        return {};
    }
    place = std::min(place, children->size());
    children->insert(children->begin() + static_cast<std::ptrdiff_t>(place), part);
    return fmt::format("{}/{}/{}", box, boxWord(*at(box)), place);
}

std::string DesignDraft::insertBeside(const std::string& pointer, bool behind, const Json& part) {
    auto standing = standingOf(pointer);
    if (!standing) {
        const Json* found = this->part(pointer);
        if (found == nullptr) {
            return {};
        }
        if (!boxWord(*found).empty()) { // the root: into it
            return insert(pointer, behind ? found->at(boxWord(*found)).size() : 0, part);
        }
        standing = standingOf(wrap(pointer, PartType::Column));
    }
    return insert(standing->box, standing->place + (behind ? 1 : 0), part);
}

std::string DesignDraft::remove(const std::string& pointer) {
    const auto standing = standingOf(pointer);
    Json* children = standing ? childrenOf(standing->box) : nullptr;
    if (children == nullptr || standing->place >= children->size()) {
        return {};
    }
    children->erase(standing->place);
    return children->empty() ? standing->box
                             : fmt::format("{}/{}/{}", standing->box, standing->word,
                                           std::min(standing->place, children->size() - 1));
}

std::string DesignDraft::move(const std::string& from, const std::string& box, std::size_t place) {
    const auto standing = standingOf(from);
    const bool intoItself = box == from || box.starts_with(from + "/");
    if (!standing || intoItself || at(from) == nullptr || childrenOf(box) == nullptr) {
        return {};
    }
    const Json moved = *at(from);
    const bool sameBox = standing->box == box;
    // What stands behind it in its old box comes one forward, and so may the box it goes to.
    std::string target = box;
    const std::string list = standing->box + "/" + standing->word + "/";
    if (!sameBox && box.starts_with(list)) {
        const std::size_t end = std::min(box.find('/', list.size()), box.size());
        std::size_t index = 0;
        std::from_chars(box.data() + list.size(), box.data() + end, index);
        if (index > standing->place) {
            target = list + std::to_string(index - 1) + box.substr(end);
        }
    }
    childrenOf(standing->box)->erase(standing->place);
    return insert(target, sameBox && place > standing->place ? place - 1 : place, moved);
}

std::string DesignDraft::step(const std::string& pointer, int by) {
    const auto standing = standingOf(pointer);
    const Json* children = standing ? childrenOf(standing->box) : nullptr;
    if (children == nullptr) {
        return {};
    }
    const auto to = static_cast<std::ptrdiff_t>(standing->place) + by;
    if (to < 0 || to >= static_cast<std::ptrdiff_t>(children->size())) {
        return {};
    }
    return move(pointer, standing->box, static_cast<std::size_t>(by > 0 ? to + 1 : to));
}

std::string DesignDraft::duplicate(const std::string& pointer) {
    const Json* found = part(pointer);
    return found == nullptr || !standingOf(pointer) ? std::string()
                                                    : insertBeside(pointer, true, Json(*found));
}

std::string DesignDraft::wrap(const std::string& pointer, PartType box) {
    Json* found = at(pointer);
    if (found == nullptr) {
        return {};
    }
    Json inner = *found;
    Json outer = {{partWord(box), Json::array({inner})}};
    if (box != PartType::Over) {
        outer["gap"] = 4;
    }
    if (inner.contains("grow")) { // the place in its row is the box's now
        outer["grow"] = inner["grow"];
        outer[partWord(box)][0].erase("grow");
    }
    *found = outer;
    return fmt::format("{}/{}/0", pointer, partWord(box));
}

std::string DesignDraft::unwrap(const std::string& pointer) {
    const auto standing = standingOf(pointer);
    const Json* found = part(pointer);
    const std::string word = found == nullptr ? std::string() : boxWord(*found);
    if (word.empty()) {
        return {};
    }
    const Json children = found->at(word);
    if (!standing) {
        if (children.size() != 1) {
            return {};
        }
        *at(pointer) = Json(children[0]);
        return pointer;
    }
    Json* list = childrenOf(standing->box);
    list->erase(standing->place);
    for (std::size_t i = 0; i < children.size(); ++i) {
        list->insert(list->begin() + static_cast<std::ptrdiff_t>(standing->place + i), children[i]);
    }
    return children.empty() ? standing->box : pointer;
}

void DesignDraft::replace(const std::string& pointer, const Json& part) {
    if (Json* found = at(pointer)) {
        *found = part;
    }
}

std::string DesignDraft::resize(const std::string& pointer, double width, double height) {
    const Json* part = this->part(pointer);
    std::string word = partWordOf(part != nullptr ? *part : Json());
    const auto standing = standingOf(pointer);
    const bool inRow = standing && standing->word == "row";
    if (word == "space" || word == "line") {
        const double along = inRow ? width : height;
        (void)set(pointer, word, word == "line" ? std::max(1.0, along) : along);
        return word;
    }
    (void)set(pointer, "width", width);
    if (word != "text" && word != "badge") { // a text is as high as its lines
        (void)set(pointer, "height", height);
    }
    return word;
}

bool DesignDraft::setParameter(const std::string& name, const QVariant& given) {
    const Json value = given.userType() == QMetaType::Bool      ? Json(given.toBool())
                       : given.userType() == QMetaType::QString ? Json(given.toString().toStdString())
                                                                : Json(given.toDouble());
    const std::string pointer = "/parameters/" + name;
    const Json* found = part(pointer);
    if (found == nullptr) {
        return false;
    }
    return found->is_object() ? set(pointer, "value", value) : set("/parameters", name, value);
}

bool differInValuesOnly(const std::string& a, const std::string& b) {
    const DesignDraft one(a);
    const DesignDraft other(b);
    const auto same = [&](const char* member) { return one.member({}, member) == other.member({}, member); };
    const auto names = [](const DesignDraft& draft) {
        std::vector<std::string> all;
        const nlohmann::ordered_json parameters = draft.member({}, "parameters");
        if (!parameters.is_object()) {
            return all;
        }
        for (const auto& [name, value] : parameters.items()) {
            const auto& found = value.is_object() && value.contains("value") ? value["value"] : value;
            all.push_back(name + found.type_name());
        }
        return all;
    };
    return same("items") && same("pieces") && names(one) == names(other);
}

} // namespace scorrere::workbench
