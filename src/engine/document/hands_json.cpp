// SPDX-License-Identifier: Apache-2.0
#include "engine/document/hands_json.h"

#include "engine/record/uri_template.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <iterator>

namespace scorrere {

namespace {

using What = ActionStep::What;

struct StepName {
    const char* name;
    What what;
};
/// Those that are said by a word alone.
constexpr std::array<StepName, 5> kWords{{{"detail", What::Detail},
                                          {"remove", What::Remove},
                                          {"select", What::Select},
                                          {"toStart", What::ToStart},
                                          {"toEnd", What::ToEnd}}};
/// Those that are said of something: the member that names them.
constexpr std::array<StepName, 7> kMembers{{{"set", What::Set},
                                            {"turn", What::Turn},
                                            {"add", What::Add},
                                            {"copy", What::Copy},
                                            {"call", What::Call},
                                            {"go", What::Go},
                                            {"tell", What::Tell}}};

constexpr std::size_t kMostSteps = 12;

SelectMode selectNamed(Members& m) {
    return m.oneOf<SelectMode>(
        "select", SelectMode::None,
        {{"none", SelectMode::None}, {"one", SelectMode::One}, {"many", SelectMode::Many}});
}

const char* handWord(SelectMode mode) {
    return mode == SelectMode::One ? "one" : mode == SelectMode::Many ? "many" : "none";
}

const char* handWord(HandsSpec::Lift lift) {
    return lift == HandsSpec::Lift::Held ? "held" : lift == HandsSpec::Lift::Handle ? "handle" : "not";
}

std::vector<std::string> namesIn(Members& m, const char* member) {
    std::vector<std::string> names;
    const Json* json = m.member(member);
    const bool isList = json == nullptr || (json->is_array() && std::ranges::all_of(*json, &Json::is_string));
    if (!isList || (json != nullptr && json->size() > HandsSpec::kMostAside)) {
        m.fail(member,
               fmt::format("\"{}\" is not a list of at most {} actions", member, HandsSpec::kMostAside),
               "Name them, as in [\"verify\", \"remove\"].");
        return names;
    }
    for (const Json& name : json == nullptr ? Json::array() : *json) {
        names.push_back(name.get<std::string>());
    }
    return names;
}

SendRule readCall(Members& m, std::optional<Error>& error, std::vector<std::string>& unknown) {
    SendRule rule{"POST", {}, {}};
    const Json* json = m.member("call");
    Members call(*json, m.pointerTo("call"), error);
    rule.method = call.oneOf<std::string>(
        "method", rule.method,
        {{"GET", "GET"}, {"PATCH", "PATCH"}, {"PUT", "PUT"}, {"POST", "POST"}, {"DELETE", "DELETE"}});
    rule.address = call.text("address");
    if (rule.address.empty()) {
        call.fail("address", "it is not said whom to call",
                  R"(Write its address, as in "address": "https://example.org/records/{id}/check".)");
    } else if (const auto made = UriTemplate::parse(rule.address); !made) {
        call.fail("address", made.error().message, made.error().advice, made.error().code);
    }
    if (const Json* body = call.member("body")) {
        rule.body = body->dump();
    }
    std::ranges::move(call.unknown(), std::back_inserter(unknown));
    return rule;
}

ActionStep readActionStep(const Json& json, const std::string& pointer, std::optional<Error>& error,
                          std::vector<std::string>& unknown) {
    ActionStep step;
    const auto fail = [&](const std::string& message) {
        error =
            error ? error
                  : Error{ErrorCode::Invalid,
                          message,
                          "Write one of \"detail\", \"remove\", \"select\", \"toStart\", \"toEnd\", or as in "
                          "{\"set\": \"status\", \"value\": \"verified\"}.",
                          {}};
        error->place.pointer = pointer;
    };
    if (json.is_string()) {
        const auto* word = std::ranges::find_if(
            kWords, [&](const StepName& one) { return json.get<std::string>() == one.name; });
        if (word == kWords.end()) {
            fail(fmt::format("\"{}\" is nothing an action can do", json.get<std::string>()));
        } else {
            step.what = word->what;
        }
        return step;
    }
    Members m(json, pointer, error);
    const auto* name = std::ranges::find_if(kMembers, [&](const StepName& one) { return m.has(one.name); });
    if (name == kMembers.end()) {
        fail("it is not said what is done");
        return step;
    }
    step.what = name->what;
    switch (step.what) {
    case What::Set: {
        step.field = m.text("set");
        const Json* value = m.member("value");
        step.value = value == nullptr || value->is_null() ? std::string() : value->dump();
        break;
    }
    case What::Turn:
        step.field = m.text("turn");
        break;
    case What::Add:
        step.field = m.text("add");
        step.by = m.number("by", 1, -1e15, 1e15);
        break;
    case What::Call:
        step.call = readCall(m, error, unknown);
        break;
    default:
        step.text = m.text(name->name);
        break;
    }
    const bool lacksField =
        (step.what == What::Set || step.what == What::Turn || step.what == What::Add) && step.field.empty();
    const bool lacksText =
        (step.what == What::Copy || step.what == What::Go || step.what == What::Tell) && step.text.empty();
    if (lacksField || lacksText) {
        m.fail(name->name, fmt::format("\"{}\" says nothing", name->name),
               lacksField ? "Name a field." : "Write a text, as in \"{id}\".");
    }
    std::ranges::move(m.unknown(), std::back_inserter(unknown));
    return step;
}

Json written(const ActionStep& step) {
    if (const auto* word = std::ranges::find(kWords, step.what, &StepName::what); word != kWords.end()) {
        return word->name;
    }
    Json json = Json::object();
    const char* name = std::ranges::find(kMembers, step.what, &StepName::what)->name;
    switch (step.what) {
    case What::Set:
        json[name] = step.field;
        json["value"] = step.value.empty() ? Json(nullptr) : Json::parse(step.value, nullptr, false);
        break;
    case What::Turn:
        json[name] = step.field;
        break;
    case What::Add:
        json[name] = step.field;
        json["by"] = step.by;
        break;
    case What::Call:
        json[name] = {{"method", step.call.method}, {"address", step.call.address}};
        if (!step.call.body.empty()) {
            json[name]["body"] = Json::parse(step.call.body, nullptr, false);
        }
        break;
    default:
        json[name] = step.text;
    }
    return json;
}

Tone toneIn(Members& m) {
    std::vector<std::pair<const char*, Tone>> tones;
    for (std::size_t i = 0; i < kTones; ++i) {
        tones.emplace_back(toneWord(static_cast<Tone>(i)), static_cast<Tone>(i));
    }
    return m.oneOf<Tone>("tone", Tone::Neutral, tones);
}

} // namespace

ActionSpec actionNamed(const Actions& actions, const std::string& name) {
    if (const auto known = actions.find(name); known != actions.end()) {
        return known->second;
    }
    ActionSpec action;
    const auto* word = std::ranges::find_if(kWords, [&](const StepName& one) { return name == one.name; });
    if (word != kWords.end()) {
        ActionStep step;
        step.what = word->what;
        action.steps.push_back(std::move(step));
        action.tone = word->what == What::Remove ? Tone::Bad : Tone::Neutral;
    }
    return action;
}

std::string titleOf(const Actions& actions, const std::string& name) {
    const auto known = actions.find(name);
    return known == actions.end() || known->second.title.empty() ? name : known->second.title;
}

HandsSpec readHands(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown) {
    HandsSpec hands;
    const Json* json = top.member("hands");
    if (json == nullptr) {
        return hands;
    }
    Members m(*json, "/hands", error);
    hands.select = selectNamed(m);
    hands.tap = m.text("tap");
    hands.doubleTap = m.text("doubleTap");
    hands.press = m.text("press");
    if (const Json* swipe = m.member("swipe")) {
        Members sides(*swipe, "/hands/swipe", error);
        hands.atStart = namesIn(sides, "atStart");
        hands.atEnd = namesIn(sides, "atEnd");
        hands.pulled = sides.number("pulled", hands.pulled, 0.2, 1);
        std::ranges::move(sides.unknown(), std::back_inserter(unknown));
    }
    hands.lift = m.oneOf<HandsSpec::Lift>("lift", HandsSpec::Lift::Not,
                                          {{"not", HandsSpec::Lift::Not},
                                           {"held", HandsSpec::Lift::Held},
                                           {"handle", HandsSpec::Lift::Handle}});
    hands.liftsAcross = m.oneOf<bool>("liftTo", false, {{"section", false}, {"anywhere", true}});
    hands.detailAlong = m.oneOf<bool>("detail", false, {{"across", false}, {"along", true}});
    hands.times.pressMs = m.whole("pressMs", hands.times.pressMs, 50, 10'000);
    hands.times.doubleMs = m.whole("doubleTapMs", hands.times.doubleMs, 50, 5'000);
    hands.times.slop = m.length("slop").value_or(hands.times.slop);
    hands.seenMs = m.whole("seenMs", hands.seenMs, 0, 600'000);
    std::ranges::move(m.unknown(), std::back_inserter(unknown));
    return hands;
}

Actions readActions(Members& top, std::optional<Error>& error, std::vector<std::string>& unknown) {
    Actions actions;
    const Json* json = top.member("actions");
    if (json == nullptr) {
        return actions;
    }
    Members names(*json, "/actions", error);
    if (error) {
        return actions;
    }
    for (const auto& [name, value] : json->items()) {
        const std::string pointer = "/actions/" + name;
        Members m(value, pointer, error);
        ActionSpec action;
        action.title = m.text("title");
        action.tone = toneIn(m);
        const Json* steps = m.member("do");
        if (steps != nullptr && (!steps->is_array() || steps->size() > kMostSteps)) {
            m.fail("do", fmt::format("\"do\" is not a list of at most {} steps", kMostSteps),
                   "Write what is done, in order, as in [\"detail\"].");
        }
        for (std::size_t i = 0; steps != nullptr && !error && i < steps->size(); ++i) {
            action.steps.push_back(
                readActionStep((*steps)[i], fmt::format("{}/do/{}", pointer, i), error, unknown));
        }
        std::ranges::move(m.unknown(), std::back_inserter(unknown));
        if (error) {
            return actions;
        }
        actions[name] = std::move(action);
    }
    return actions;
}

void writeHands(Json& json, const HandsSpec& hands) {
    const HandsSpec usual;
    const auto put = [&json](const char* member, const Json& value, bool isUsual) {
        if (!isUsual) {
            json["hands"][member] = value;
        } else if (json.contains("hands")) {
            json["hands"].erase(member);
        }
    };
    put("select", handWord(hands.select), hands.select == usual.select);
    put("tap", hands.tap, hands.tap.empty());
    put("doubleTap", hands.doubleTap, hands.doubleTap.empty());
    put("press", hands.press, hands.press.empty());
    Json swipe =
        json.contains("hands") && json["hands"].contains("swipe") ? json["hands"]["swipe"] : Json::object();
    for (const auto& [member, names] : {std::pair("atStart", &hands.atStart), {"atEnd", &hands.atEnd}}) {
        swipe.erase(member);
        if (!names->empty()) {
            swipe[member] = *names;
        }
    }
    swipe.erase("pulled");
    if (hands.pulled != usual.pulled) {
        swipe["pulled"] = hands.pulled;
    }
    put("swipe", swipe, swipe.empty());
    put("lift", handWord(hands.lift), hands.lift == usual.lift);
    put("liftTo", "anywhere", !hands.liftsAcross);
    put("detail", "along", !hands.detailAlong);
    put("pressMs", hands.times.pressMs, hands.times.pressMs == usual.times.pressMs);
    put("doubleTapMs", hands.times.doubleMs, hands.times.doubleMs == usual.times.doubleMs);
    put("slop", hands.times.slop.toPx(), hands.times.slop == usual.times.slop);
    put("seenMs", hands.seenMs, hands.seenMs == usual.seenMs);
    if (json.contains("hands") && json["hands"].empty()) {
        json.erase("hands");
    }
}

void writeActions(Json& json, const Actions& actions) {
    Json& all = json["actions"];
    if (!all.is_object()) {
        all = Json::object();
    }
    std::vector<std::string> gone;
    for (const auto& [name, value] : all.items()) {
        if (!actions.contains(name)) {
            gone.push_back(name);
        }
    }
    for (const std::string& name : gone) {
        all.erase(name);
    }
    for (const auto& [name, action] : actions) {
        Json& to = all[name];
        if (!to.is_object()) {
            to = Json::object();
        }
        to.erase("title");
        to.erase("tone");
        if (!action.title.empty()) {
            to["title"] = action.title;
        }
        if (action.tone != Tone::Neutral) {
            to["tone"] = toneWord(action.tone);
        }
        Json steps = Json::array();
        std::ranges::transform(action.steps, std::back_inserter(steps), written);
        to["do"] = std::move(steps);
    }
    if (all.empty()) {
        json.erase("actions");
    }
}

} // namespace scorrere
