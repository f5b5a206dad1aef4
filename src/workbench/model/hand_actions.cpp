// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/hand_actions.h"

#include "engine/design/text_pattern.h"
#include "engine/record/record_json.h"
#include "render/source_call.h"
#include "workbench/model/record_changes.h"

#include <QClipboard>
#include <QGuiApplication>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {

namespace {

const QString kDone = QStringLiteral("done by hand");

/// The edit of a step; null: it is none, or changes nothing.
std::shared_ptr<const RecordEdit> editOf(const ActionStep& step, const render::HandItem& item,
                                         const RecordTable& records, std::int64_t record,
                                         render::LiveCollection& live) {
    auto edit = std::make_shared<RecordEdit>();
    edit->key = item.key;
    edit->hint = item.record;
    edit->field = step.field;
    const auto field = records.find(step.field);
    switch (step.what) {
    case ActionStep::What::Set:
        edit->value = step.value;
        return edit;
    case ActionStep::What::Turn: {
        const bool isOn = field && records.has(record, *field) &&
                          records.field(*field).type == FieldType::Boolean && records.boolean(record, *field);
        edit->value = isOn ? "false" : "true";
        return edit;
    }
    case ActionStep::What::Add: {
        const FieldType type = field ? records.field(*field).type : FieldType::Integer;
        const bool isNumber = type == FieldType::Integer || type == FieldType::Real;
        const double now =
            field && isNumber && records.has(record, *field) ? records.real(record, *field) : 0;
        const double sum = now + step.by;
        const bool isWhole = type == FieldType::Integer && std::floor(sum) == sum;
        edit->value = isWhole ? std::to_string(static_cast<std::int64_t>(sum)) : nlohmann::json(sum).dump();
        return edit;
    }
    case ActionStep::What::Remove:
        edit->kind = RecordEdit::Kind::Remove;
        return edit;
    case ActionStep::What::ToStart:
    case ActionStep::What::ToEnd: {
        edit->kind = RecordEdit::Kind::Move;
        const RecordOrder given =
            live.edited() != nullptr ? live.edited()->given : RecordOrder(live.records().size());
        if (step.what == ActionStep::What::ToStart && given.size() > 0) {
            edit->before = keyOfRecord(live, given.at(0));
        }
        return edit->before == item.key ? nullptr : edit;
    }
    default:
        return nullptr;
    }
}

/// A text pattern of the record; the text as it stands where it is none.
std::string said(const std::string& pattern, const CollectionDocument& document, const FillContext& context) {
    auto made = TextPattern::compile(
        pattern, {context.records, document.locale, &document.parameters, nullptr, false});
    std::string text;
    return made && made->format(context, text) ? text : pattern;
}

} // namespace

HandActions::HandActions(Workspace& workspace, QObject* parent) : QObject(parent), workspace_(workspace) {
    connect(&workspace_, &Workspace::replaced, this, [this] { calls_.clear(); }); // nobody answers any more
    connect(&workspace_.undo(), &QUndoStack::indexChanged, this, [this](int index) {
        if (index < doneAt_) { // it was taken back
            doneAt_ = 0;
            Q_EMIT noticed(Notice::over(kDone));
        }
    });
}

void HandActions::perform(render::LiveCollection& live, const QString& name, const render::HandItem& item,
                          std::int64_t timeUs) {
    const Actions& actions = workspace_.document().actions;
    const ActionSpec action = actionNamed(actions, name.toStdString());
    const QString title = QString::fromStdString(titleOf(actions, name.toStdString()));
    const auto context = item.place < 0 ? std::nullopt : live.contextAt(item.place + live.leaf().first);
    if (action.steps.empty() || !context || context->record < 0) {
        const QString of =
            item.key.empty() ? tr("record %1").arg(item.place + 1) : QString::fromStdString(item.key);
        Q_EMIT noticed(Notice::told(tr("Told to the app: %1, of %2.").arg(title, of)));
        return;
    }
    if (item.key.empty()) {
        Q_EMIT noticed(
            Notice::told(tr("%1 was not done: the record has no key. Choose one in Source.").arg(title)));
        return;
    }
    const std::string record = recordJson(context->records, context->record);
    RecordEdits made;
    CollectionDocument to = workspace_.document();
    for (const ActionStep& step : action.steps) {
        if (auto edit = editOf(step, item, context->records, context->record, live)) {
            to.edits = withEdit(std::move(to.edits), *edit);
            made.push_back(std::move(edit));
        }
    }
    QString told;
    std::string goal;
    std::vector<SendRule> calls;
    for (const ActionStep& step : action.steps) {
        switch (step.what) {
        case ActionStep::What::Detail:
            if (!live.detail().mayOpen()) {
                Q_EMIT noticed(
                    Notice::told(tr("There is no design for a record at length: say one in Item.")));
            }
            live.detail().open(item, timeUs);
            break;
        case ActionStep::What::Select:
            live.hands().selection().turn(item.selectable());
            live.hands().selectionDone();
            break;
        case ActionStep::What::Copy:
            QGuiApplication::clipboard()->setText(
                QString::fromStdString(said(step.text, workspace_.document(), *context)));
            told = tr("Copied: %1").arg(QGuiApplication::clipboard()->text());
            break;
        case ActionStep::What::Tell:
            told = QString::fromStdString(said(step.text, workspace_.document(), *context));
            break;
        case ActionStep::What::Go:
            goal = said(step.text, workspace_.document(), *context);
            break;
        case ActionStep::What::Call:
            calls.push_back(step.call);
            break;
        default:
            break;
        }
    }
    if (std::ranges::any_of(made, [](const auto& edit) { return edit->kind == RecordEdit::Kind::Remove; })) {
        live.hands().selection().drop(item.selectable());
    }
    if (!made.empty()) {
        workspace_.change(title, std::move(to));
    }
    if (!told.isEmpty()) {
        tellDone(made.empty() ? told : tr("%1 · Ctrl+Z takes it back").arg(told));
    } else if (!made.empty()) {
        tellDone(tr("%1: %2. Ctrl+Z takes it back.").arg(title, editInWords(*made.front())));
    }
    for (const SendRule& rule : calls) {
        call(title, rule, item.key, record, made);
    }
    if (!goal.empty()) {
        live.hands().goToKey(goal, timeUs);
    }
}

/// In place of what was told of the one before.
void HandActions::tellDone(const QString& text) {
    Notice notice = Notice::told(text);
    notice.about = kDone;
    doneAt_ = workspace_.undo().index();
    Q_EMIT noticed(notice);
}

void HandActions::call(const QString& title, const SendRule& rule, const std::string& key,
                       const std::string& record, const RecordEdits& made) {
    const auto fail = [this, title, key, made](const Error& error) {
        takeBack(made, title);
        Q_EMIT noticed(Notice::failed(made.empty() ? tr("%1 did not work.").arg(title)
                                                   : tr("%1 did not work, and is taken back.").arg(title),
                                      error));
        Q_EMIT failed(QString::fromStdString(key), title);
    };
    auto request = requestOf(rule, key, record);
    if (!request) {
        return fail(request.error());
    }
    const std::int64_t number = ++callsEver_;
    auto& job = calls_[number] = std::make_unique<render::Job>();
    job->start(
        [request = std::move(*request), source = workspace_.document().source,
         secret = workspace_.opened().secret, access = workspace_.opened().access,
         demo = workspace_.sharedDemo()](const std::stop_token& stop, const render::Job::Post&) -> Outcome {
            std::string address = request.address;
            std::string base;
            if (address.starts_with(render::kDemoScheme)) {
                auto where = demo->address();
                if (!where) {
                    return std::move(where.error());
                }
                base = *where;
                address = base + "/" + address.substr(std::string_view(render::kDemoScheme).size());
            }
            render::HttpCall sent = render::callOf(source, address, secret);
            const auto own = render::expandedAddress(source.address, render::sourceVariables(source), base);
            if (!own || !render::sameOrigin(*own, address)) {
                sent.originHeaders.clear();
            }
            sent.method = request.method;
            sent.body = request.body;
            sent.contentType = request.contentType;
            sent.access = base.empty() ? access : nullptr;
            const auto answer = render::askHttp(sent, stop);
            if (!answer) {
                return Outcome(answer.error());
            }
            if (auto error = render::statusError(*answer)) {
                return Outcome(std::move(*error));
            }
            return done();
        },
        [this, number, fail](const Outcome& outcome) {
            const auto done = calls_.extract(number); // it is what calls
            if (!outcome) {
                fail(outcome.error());
            }
        });
}

/// Those that are still as they were made.
void HandActions::takeBack(const RecordEdits& made, const QString& title) {
    CollectionDocument to = workspace_.document();
    const std::size_t before = to.edits.size();
    std::erase_if(to.edits, [&made](const std::shared_ptr<const RecordEdit>& edit) {
        return std::ranges::any_of(made, [&edit](const auto& one) { return *one == *edit; });
    });
    if (to.edits.size() != before) {
        workspace_.change(tr("take back: %1").arg(title), std::move(to));
    }
}

void HandActions::setDown(render::LiveCollection& live, const render::HandItem& item,
                          const std::vector<std::pair<std::string, std::string>>& takesOver) {
    auto edit = std::make_shared<RecordEdit>();
    edit->kind = RecordEdit::Kind::Move;
    edit->key = item.key;
    edit->hint = item.record;
    if (item.place + 1 < live.recordCount()) { // in front of the one that stands behind it now
        edit->before = live.hands().keyAt(item.place + 1);
    }
    CollectionDocument to = workspace_.document();
    to.edits = withEdit(std::move(to.edits), *edit);
    QStringList words{editInWords(*edit)};
    for (const auto& [field, value] : takesOver) {
        RecordEdit said;
        said.key = item.key;
        said.hint = item.record;
        said.field = field;
        said.value = value;
        to.edits = withEdit(std::move(to.edits), said);
        words << editInWords(said);
    }
    workspace_.change(words.first(), std::move(to));
    tellDone(tr("%1. Ctrl+Z puts it back.").arg(words.join(QStringLiteral("; "))));
}

} // namespace scorrere::workbench

#include "moc_hand_actions.cpp"
