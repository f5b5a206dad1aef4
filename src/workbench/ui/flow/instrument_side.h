// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/values.h"
#include "engine/edit/edited_records.h"
#include "engine/order/order_spec.h"
#include "workbench/ui/flow/edits_list.h"
#include "workbench/ui/flow/foldable.h"

#include <QAction>
#include <QBoxLayout>
#include <QList>
#include <QSettings>
#include <QVariant>
#include <QWidget>
#include <optional>

namespace scorrere {
enum class TailState : std::uint8_t;
namespace render {
class LiveCollection;
}
} // namespace scorrere

namespace scorrere::workbench {

class ChangesInstrument;
class FramesInstrument;
class GesturesInstrument;
class PagesBar;
class ParameterRow;
class QueryFields;
class RequestsInstrument;
class ViewsInstrument;

/// What one plays with and what tells what the run does, beside the cutaway: the parameters, the query, and
/// the instruments, each of which folds to a line.
class InstrumentSide : public QWidget {
    Q_OBJECT
public:
    static constexpr int kSlowness = 8; ///< how many times slower "slow" is

    explicit InstrumentSide(Look& look, QWidget* parent = nullptr);

    FramesInstrument& frames() { return *frames_; }
    QueryFields& query() { return *query_; }
    /// Nothing runs, until all are told of what does.
    void forget();
    /// What shows, and what its pages are asked by; views apart from the others, since each is painted in a turn of its own.
    void setViews(render::LiveCollection* shown);
    void setOthers(render::LiveCollection* shown, render::LiveCollection* asks);
    /// A frame came.
    void followViews();
    void followOthers();
    /// Another order is on its way, or took the place of the one before.
    void followChanges();
    ChangesInstrument& changes() { return *changes_; }
    GesturesInstrument& gestures() { return *gestures_; }
    void setGestures(render::LiveCollection* shown);
    /// Hands did something.
    void followGestures();
    EditsList& edits() { return *edits_; }
    void followEdits(EditsList::Shown shown);
    void followToStart(const OrderSpec::ToStart& toStart);
    void setPaged(bool paged);
    void setStaged(std::optional<TailState> state);
    void setPaused(bool paused);
    void setSlow(bool slow);
    /// A row each, or other values for those that are there.
    void makeParameters(const Parameters& parameters);
    void setParameters(const Parameters& parameters);

    /// All to a line each, or all as they were.
    void foldAll(bool fold);
    bool isAllFolded() const;
    /// Beside each other instead of one below the other: where there is width and little height.
    void setWide(bool wide);
    /// px it needs across.
    double needed() const { return look_.scaled(430); }
    void save(QSettings& settings) const;
    void restore(const QSettings& settings);

Q_SIGNALS:
    void foldedChanged();
    void compareWanted();
    void toStartWanted(const scorrere::OrderSpec::ToStart& toStart);
    void pauseWanted(bool paused);
    void stepWanted();
    void slowWanted(bool slow);
    void refreshWanted();
    void retryWanted();
    void stageWanted(std::optional<scorrere::TailState> state);
    void variableWanted(const QString& name, const QString& value);
    void parameterWanted(const QString& name, const QVariant& value);

private:
    QToolButton* makeButton(const QString& name, const QString& text, const QString& tip);
    void makeRunButtons();
    void restyle();

    Look& look_;
    QWidget* parameters_ = nullptr;
    QList<ParameterRow*> parameterRows_;
    QueryFields* query_ = nullptr; ///< of the address, on one line
    FramesInstrument* frames_ = nullptr;
    ChangesInstrument* changes_ = nullptr;
    GesturesInstrument* gestures_ = nullptr;
    void makeAfterMenu();
    QToolButton* after_ = nullptr;
    QList<std::pair<QAction*, bool OrderSpec::ToStart::*>> afterKinds_;
    EditsList* edits_ = nullptr;
    RequestsInstrument* requests_ = nullptr;
    ViewsInstrument* views_ = nullptr;
    PagesBar* pagesBar_ = nullptr;
    QList<Foldable*> parts_;     ///< frames, requests, views, changes, edits
    QBoxLayout* room_ = nullptr; ///< what has a time, and the views
    QToolButton* pause_ = nullptr;
    QToolButton* slow_ = nullptr;
    QToolButton* compare_ = nullptr;
    QList<QToolButton*> buttons_;
};

} // namespace scorrere::workbench
