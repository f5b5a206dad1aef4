// SPDX-License-Identifier: Apache-2.0
#include "engine/document/script_file.h"

#include "engine/document/edits_json.h"
#include "engine/document/json_check.h"
#include "engine/document/order_json.h"

#include <fmt/format.h>

namespace scorrere {

namespace {

constexpr std::size_t kMaxScriptBytes = std::size_t{16} << 20;
constexpr double kFar = 1e9;

void readObjectAction(Members& members, const char* name, const std::string& pointer,
                      std::optional<Error>& error, ScriptStep& step) {
    Members inner(*members.member(name), pointer + "/" + name, error);
    switch (step.action) {
    case ScriptAction::Drag:
        step.a = inner.number("by", 0, -kFar, kFar);
        step.b = inner.number("for", 100, 1, 60'000);
        break;
    case ScriptAction::Resize:
        step.a = inner.number("width", 412, 50, 10'000);
        step.b = inner.number("height", 780, 50, 10'000);
        break;
    case ScriptAction::Insert:
        step.a = inner.number("at", 0, 0, kFar);
        step.b = inner.number("record", 0, 0, kFar);
        step.c = inner.number("count", 1, 1, kFar);
        break;
    default:
        step.a = inner.number("at", 0, 0, kFar);
        step.b = inner.number("count", 1, 1, kFar);
        break;
    }
    for (const std::string& unknown : inner.unknown()) {
        inner.fail(unknown.substr(unknown.rfind('/') + 1).c_str(), "there is no such member here",
                   "Leave it out.");
    }
}

HandStep readHand(Members& members, const char* name, const std::string& pointer, std::optional<Error>& error,
                  ScriptAction action) {
    HandStep hand;
    if (action == ScriptAction::Type) {
        hand.text = members.text(name);
        return hand;
    }
    Members inner(*members.member(name), pointer + "/" + name, error);
    if (inner.has("key")) {
        hand.key = inner.text("key");
    } else {
        hand.x = inner.number("x", 0, -kFar, kFar);
        hand.y = inner.number("y", 0, -kFar, kFar);
        if (!inner.has("x") || !inner.has("y")) {
            inner.fail("key", "it is not said where",
                       "Name an item by its \"key\", or a point by \"x\" and \"y\".");
        }
    }
    if (action == ScriptAction::Swipe) {
        hand.by = inner.number("by", 0, -10'000, 10'000);
        hand.forMs = inner.number("for", hand.forMs, 1, 60'000);
    } else if (action == ScriptAction::Lift) {
        hand.to = inner.text("to");
        hand.forMs = inner.number("for", 600, 1, 600'000);
        if (hand.to.empty()) {
            inner.fail("to", "it is not said where it is set down",
                       "Name the item in whose place, by its key.");
        }
    } else if (action == ScriptAction::Select) {
        hand.isMore = inner.yesNo("more", false);
        hand.isRange = inner.yesNo("range", false);
    }
    for (const std::string& unknown : inner.unknown()) {
        inner.fail(unknown.substr(unknown.rfind('/') + 1).c_str(), "there is no such member here",
                   "Leave it out.");
    }
    return hand;
}

ScriptStep readStep(const Json& json, const std::string& pointer, std::optional<Error>& error) {
    static constexpr std::array<std::pair<const char*, ScriptAction>, 22> kActions{
        {{"drag", ScriptAction::Drag},           {"fling", ScriptAction::Fling},
         {"wheel", ScriptAction::Wheel},         {"key", ScriptAction::Key},
         {"jump", ScriptAction::Jump},           {"map", ScriptAction::Map},
         {"rotate", ScriptAction::Rotate},       {"resize", ScriptAction::Resize},
         {"textScale", ScriptAction::TextScale}, {"insert", ScriptAction::Insert},
         {"remove", ScriptAction::Remove},       {"order", ScriptAction::Order},
         {"edit", ScriptAction::Edit},           {"tap", ScriptAction::Tap},
         {"doubleTap", ScriptAction::DoubleTap}, {"press", ScriptAction::Press},
         {"swipe", ScriptAction::Swipe},         {"lift", ScriptAction::Lift},
         {"hover", ScriptAction::Hover},         {"select", ScriptAction::Select},
         {"type", ScriptAction::Type},           {"wait", ScriptAction::WaitIdle}}};
    ScriptStep step;
    Members members(json, pointer, error);
    if (error) {
        return step;
    }
    step.atMs = members.whole("at", 0, 0, 86'400'000);
    int found = 0;
    for (const auto& [word, action] : kActions) {
        if (!members.has(word)) {
            continue;
        }
        ++found;
        step.action = action;
        switch (action) {
        case ScriptAction::Fling:
            step.a = members.number(word, 0, -200'000, 200'000);
            break;
        case ScriptAction::Wheel:
            step.a = members.number(word, 0, -kFar, kFar);
            break;
        case ScriptAction::Jump:
            step.a = members.number(word, 0, 0, kFar);
            break;
        case ScriptAction::Map:
            step.a = members.number(word, 0, 0, 1);
            break;
        case ScriptAction::TextScale:
            step.a = members.number(word, 1, 0.5, 4);
            break;
        case ScriptAction::Key:
            step.a = members.oneOf<double>(word, 0,
                                           {{"lineBack", 0},
                                            {"lineOn", 1},
                                            {"pageBack", 2},
                                            {"pageOn", 3},
                                            {"toStart", 4},
                                            {"toEnd", 5}});
            break;
        case ScriptAction::Rotate:
            members.yesNo(word, true);
            break;
        case ScriptAction::Order: {
            std::vector<std::string> unknown;
            step.order = readOrder(members, error, unknown);
            if (!unknown.empty()) {
                members.fail(word, unknown.front() + " is nothing that an order has", "Leave it out.");
            }
            break;
        }
        case ScriptAction::Edit: {
            Members inner(*members.member(word), members.pointerTo(word), error);
            step.edit = std::make_shared<const RecordEdit>(readEdit(inner));
            for (const std::string& unknown : inner.unknown()) {
                members.fail(word, unknown + " is nothing that an edit has", "Leave it out.");
            }
            break;
        }
        case ScriptAction::Tap:
        case ScriptAction::DoubleTap:
        case ScriptAction::Press:
        case ScriptAction::Swipe:
        case ScriptAction::Lift:
        case ScriptAction::Hover:
        case ScriptAction::Select:
        case ScriptAction::Type:
            step.hand = readHand(members, word, pointer, error, action);
            break;
        case ScriptAction::WaitIdle:
            members.oneOf<int>(word, 0, {{"idle", 0}});
            break;
        default:
            readObjectAction(members, word, pointer, error, step);
            break;
        }
    }
    if (found != 1 && !error) {
        error = Error{
            ErrorCode::Invalid,
            "a step does exactly one thing",
            "Give one of: drag, fling, wheel, key, jump, map, rotate, resize, textScale, insert, remove, "
            "order, edit, tap, doubleTap, press, swipe, lift, hover, select, type, wait.",
            {}};
        error->place.pointer = pointer;
    }
    return step;
}

} // namespace

Result<Script> parseScript(const std::string& text, const std::string& path) {
    auto json = parseJson(text, path);
    if (!json) {
        return std::move(json.error());
    }
    Script script;
    std::optional<Error> error;
    Members top(*json, "", error);
    script.name = top.text("name");
    script.lastsMs = top.whole("lasts", 0, 0, 86'400'000);
    if (!error && top.whole("scorrereScript", 0, 0, 1'000'000) != 1) {
        top.fail("scorrereScript", "this is not a script of version 1",
                 "A script starts with {\"scorrereScript\": 1, \"steps\": [...]}.", ErrorCode::Version);
    }
    const Json* steps = top.member("steps");
    if (steps == nullptr || !steps->is_array()) {
        top.fail("steps", "\"steps\" must be a list", "Give a list of steps.");
    } else {
        for (std::size_t i = 0; i < steps->size() && !error; ++i) {
            script.steps.push_back(readStep((*steps)[i], fmt::format("/steps/{}", i), error));
            const bool afterWait = i > 0 && script.steps[i - 1].action == ScriptAction::WaitIdle;
            if (i > 0 && !afterWait && script.steps[i].action != ScriptAction::WaitIdle &&
                script.steps[i].atMs < script.steps[i - 1].atMs && !error) {
                error = Error{ErrorCode::Invalid,
                              "this step is timed before the one above it",
                              "Write steps in order of time; time starts anew after a wait.",
                              {}};
                error->place.pointer = fmt::format("/steps/{}", i);
            }
        }
    }
    if (error) {
        error->place = placeOfPointer(text, error->place.pointer, path);
        return std::move(*error);
    }
    return script;
}

Result<Script> loadScript(const std::string& path) {
    auto text = readTextFile(path, kMaxScriptBytes);
    if (!text) {
        return std::move(text.error());
    }
    return parseScript(*text, path);
}

} // namespace scorrere
