// SPDX-License-Identifier: GPL-3.0-or-later
// The window's part in Item: the design in the document, its undoing, and its way into Flow. The rest is in
// main_window.cpp.
#include "engine/record/field_profile.h"
#include "engine/record/record_json.h"
#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/main_window.h"

#include <QUndoCommand>

namespace scorrere::workbench {

namespace {
constexpr std::size_t kMostForItem = 20'000; ///< records of pages that Item looks at
}

/// One change of the design. Typing a binding is one change, however many keys it took.
class DesignCommand final : public QUndoCommand {
public:
    DesignCommand(MainWindow& window, const QString& what, std::string to, QString merge)
        : QUndoCommand(what), window_(window), from_(window.opened_->document.designText()),
          to_(std::move(to)), merge_(std::move(merge)) {}
    void undo() override { window_.applyDesign(from_); }
    void redo() override { window_.applyDesign(to_); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const DesignCommand*>(other);
        if (merge_.isEmpty() || merge_ != next->merge_) {
            return false;
        }
        to_ = next->to_;
        return true;
    }

private:
    MainWindow& window_;
    std::string from_;
    std::string to_;
    QString merge_;
};

/// One change of how the extremes board shows the design.
class BoardCommand final : public QUndoCommand {
public:
    BoardCommand(MainWindow& window, const QString& what, BoardSpec to)
        : QUndoCommand(what), window_(window), from_(window.opened_->document.board), to_(std::move(to)) {}
    void undo() override { window_.applyBoard(from_); }
    void redo() override { window_.applyBoard(to_); }

private:
    MainWindow& window_;
    BoardSpec from_;
    BoardSpec to_;
};

namespace {

/// Whether two designs differ in the values of their parameters and nothing else.
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
            const auto& held = value.is_object() && value.contains("value") ? value["value"] : value;
            all.push_back(name + held.type_name());
        }
        return all;
    };
    return same("items") && same("pieces") && names(one) == names(other);
}

} // namespace

void MainWindow::connectItem() {
    connect(item_, &ItemStation::designWanted, this, &MainWindow::changeDesign);
    connect(item_, &ItemStation::boardWanted, this, [this](const QString& what, const BoardSpec& board) {
        if (opened_ && !(board == opened_->document.board)) {
            undo_.push(new BoardCommand(*this, what, board));
        }
    });
    connect(flow_, &FlowStation::partTapped, this,
            [this](const QString& action, qint64 record, const QString& pageKey) {
                if (!pageKey.isEmpty()) {
                    return notice_->showNotice(tr("Tapped: %1, on %2.").arg(action, pageKey));
                }
                std::vector<FieldHandle> key;
                for (const std::string& field : opened_->document.source.key) {
                    if (const auto handle = opened_->records->find(field)) {
                        key.push_back(*handle);
                    }
                }
                const auto known =
                    record < 0 || key.empty() ? std::nullopt : keyOf(*opened_->records, record, key);
                notice_->showNotice(
                    record < 0 ? tr("Tapped: %1.").arg(action)
                    : known    ? tr("Tapped: %1, on %2 (record %3).")
                                  .arg(action, QString::fromStdString(*known), grouped(record + 1))
                            : tr("Tapped: %1, on record %2.").arg(action, grouped(record + 1)));
            });
    connect(flow_, &FlowStation::parameterWanted, item_, &ItemStation::setParameter);
}

void MainWindow::makeItemActions() {
    itemActions_ << addAction(menu_, QStringLiteral("designText"), tr("Design as text"),
                              QKeySequence(tr("Ctrl+T")), [this] { item_->showText(!item_->showsText()); });
    itemActions_ << addAction(menu_, QStringLiteral("doublePart"), tr("Double the part"),
                              QKeySequence(tr("Ctrl+Shift+D")), [this] { item_->duplicateSelected(); });
}

void MainWindow::changeDesign(const QString& what, const QString& text, const QString& merge) {
    if (opened_ && text.toStdString() != opened_->document.designText()) {
        undo_.push(new DesignCommand(*this, what, text.toStdString(), merge));
    }
}

void MainWindow::applyDesign(const std::string& text) {
    const std::string before = opened_->document.designText();
    auto made = opened_->document.withDesign(text);
    if (!made) { // cannot be: it was tried before it was wanted
        return notice_->showError(tr("The design was not changed."), made.error());
    }
    opened_->document = std::move(*made);
    opened_->isPlain = false; // somebody wrote it now
    item_->setDocument(opened_->document);
    if (!flowIsStale_ && flow_->collection() != nullptr && differInValuesOnly(before, text)) {
        flow_->setParameters(opened_->document.parameters);
    } else {
        flowIsStale_ = true;
        if (station_ == Station::Flow) {
            showDesignInFlow();
        }
    }
    tellTitle();
}

void MainWindow::applyBoard(const BoardSpec& board) {
    opened_->document.board = board;
    item_->setDocument(opened_->document);
    tellTitle();
}

/// Flow goes on where it was, with the design as it is now.
void MainWindow::showDesignInFlow() {
    if (!flowIsStale_ || !opened_ || flow_->collection() == nullptr) {
        return;
    }
    const HoldPoint held = flow_->collection()->run().hold();
    Opened now = *opened_;
    now.document.window = flow_->behaviour().window;
    now.document.viewLead = flow_->behaviour().viewLead;
    now.document.paging = flow_->behaviour().paging;
    if (Outcome shown = flow_->show(now, render::Estimating::Background, true); !shown) {
        return notice_->showError(tr("The design does not fit the records; the last one that did runs on."),
                                  shown.error());
    }
    flowIsStale_ = false;
    connect(&flow_->collection()->pictures(), &render::PictureCache::failed, this,
            &MainWindow::tellOfPicture);
    if (held.position > 0) {
        flow_->collection()->run().jumpTo(held.position);
        flow_->driver().want();
    }
}

/// The board looks for what is hard among all the records that pages brought so far, not the first page
/// alone.
void MainWindow::takePagesToItem() {
    render::LiveCollection* live = flow_->collection();
    if (!opened_ || live == nullptr || live->paged() == nullptr) {
        return;
    }
    std::vector<RecordAt> here;
    for (const auto& [page, records] : live->paged()->pager().strip().loaded()) {
        for (const PageRecord& record : records) {
            here.push_back({record.table, record.row});
        }
        if (here.size() >= kMostForItem) {
            break;
        }
    }
    if (here.empty()) {
        return;
    }
    gathering_.start(
        [here = std::move(here), fields = live->paged()->fields()](std::stop_token,
                                                                   const render::Job::Post&) {
            return std::make_shared<const RecordTable>(gathered(here, fields));
        },
        [this](std::shared_ptr<const RecordTable> records) {
            render::disposeElsewhere(std::exchange(opened_->records, records));
            item_->grow(std::move(records), true);
        });
}

} // namespace scorrere::workbench
