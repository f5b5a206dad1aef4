// SPDX-License-Identifier: Apache-2.0
#include "engine/document/order_json.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace scorrere {

namespace {

constexpr std::int64_t kGreatestSeed = 999'999'999;

struct Kind {
    const char* name;
    bool OrderSpec::ToStart::*is;
};
constexpr std::array<Kind, 4> kKinds{{{"filter", &OrderSpec::ToStart::filter},
                                      {"search", &OrderSpec::ToStart::search},
                                      {"sort", &OrderSpec::ToStart::sort},
                                      {"shuffle", &OrderSpec::ToStart::shuffle}}};

std::vector<std::string> texts(Members& m, const char* name) {
    std::vector<std::string> all;
    const Json* json = m.member(name);
    if (json == nullptr) {
        return all;
    }
    const bool areTexts =
        json->is_array() && std::ranges::all_of(*json, [](const Json& one) { return one.is_string(); });
    if (!areTexts) {
        m.fail(name, fmt::format("\"{}\" is not a list of texts", name),
               "Write it as in [\"species\", \"note\"].");
        return all;
    }
    std::ranges::transform(*json, std::back_inserter(all),
                           [](const Json& one) { return one.get<std::string>(); });
    return all;
}

void readSorts(Members& m, OrderSpec& order, std::optional<Error>& error, std::vector<std::string>& unknown) {
    const Json* json = m.member("by");
    if (json == nullptr) {
        return;
    }
    if (!json->is_array()) {
        return m.fail("by", "\"by\" is not a list",
                      "Write one entry for each field, as in [{\"field\": \"count\"}].");
    }
    for (std::size_t i = 0; i < json->size(); ++i) {
        Members one((*json)[i], fmt::format("{}/{}", m.pointerTo("by"), i), error);
        SortBy by;
        by.field = one.text("field");
        if (by.field.empty()) {
            one.fail("field", "records are sorted by no field", "Name one, as in {\"field\": \"count\"}.");
        }
        by.descending = one.yesNo("descending", false);
        by.missingFirst = one.oneOf<bool>("missing", false, {{"first", true}, {"last", false}});
        std::ranges::move(one.unknown(), std::back_inserter(unknown));
        order.by.push_back(std::move(by));
    }
}

} // namespace

OrderSpec readOrder(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown) {
    OrderSpec order;
    const Json* json = top.member("order");
    if (json == nullptr) {
        return order;
    }
    Members m(*json, top.pointerTo("order"), error);
    order.where = m.text("where");
    order.containing = m.text("containing");
    order.within = texts(m, "within");
    readSorts(m, order, error, unknown);
    if (m.has("shuffled")) {
        order.shuffled = static_cast<std::uint64_t>(m.whole("shuffled", 0, 0, kGreatestSeed));
    }
    order.isGathered = m.yesNo("gathered", false);
    for (const std::string& name : texts(m, "toStart")) {
        const auto kind = std::ranges::find(kKinds, name, &Kind::name);
        if (kind == kKinds.end()) {
            m.fail("toStart", fmt::format("\"{}\" is no kind of change", name),
                   "Choose some of: filter, search, sort, shuffle.");
        } else {
            order.toStart.*(kind->is) = true;
        }
    }
    std::ranges::move(m.unknown(), std::back_inserter(unknown));
    return order;
}

void writeOrder(Json& json, const OrderSpec& order) {
    if (order == OrderSpec() && !json.contains("order")) {
        return;
    }
    Json& to = json["order"];
    const auto put = [&to](const char* name, const Json& value, bool isUsual) {
        if (isUsual) {
            to.erase(name);
        } else {
            to[name] = value;
        }
    };
    to = to.is_object() ? to : Json::object();
    put("where", order.where, order.where.empty());
    put("containing", order.containing, order.containing.empty());
    put("within", order.within, order.within.empty());
    Json sorts = Json::array();
    for (const SortBy& by : order.by) {
        Json& one = sorts.emplace_back(Json::object());
        one["field"] = by.field;
        if (by.descending) {
            one["descending"] = true;
        }
        if (by.missingFirst) {
            one["missing"] = "first";
        }
    }
    put("by", sorts, order.by.empty());
    put("shuffled", order.shuffled.value_or(0), !order.shuffled);
    put("gathered", order.isGathered, !order.isGathered);
    Json toStart = Json::array();
    for (const Kind& kind : kKinds) {
        if (order.toStart.*(kind.is)) {
            toStart.push_back(kind.name);
        }
    }
    put("toStart", toStart, toStart.empty());
    if (to.empty()) {
        json.erase("order");
    }
}

} // namespace scorrere
