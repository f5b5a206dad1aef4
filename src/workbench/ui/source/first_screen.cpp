// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/first_screen.h"

#include "workbench/model/hard_records.h"
#include "workbench/model/opening.h"
#include "workbench/ui/look/demos.h"
#include "workbench/ui/look/labels.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QTimer>

namespace scorrere::workbench {

namespace {

constexpr int kRunAfterMs = 300; ///< the place to type comes first
constexpr int kMostRecent = 5;

} // namespace

FirstScreen::FirstScreen(Look& look, Workspace& workspace, QWidget* parent)
    : QWidget(parent), look_(look), workspace_(workspace),
      sentence_(new WrappedLabel(
          tr("Bring records, and watch the collection run for real: every row measured, every "
             "view recycled, every page when it comes, and all that is normally out of sight."))),
      demo_(new WrappedLabel(tr("The demo, %1 of its made-up sightings. Scroll it.").arg(kRecords))),
      before_(new QLabel(tr("Opened before"))), recent_(new QVBoxLayout), strip_(new render::StripWidget),
      demos_(new QBoxLayout(QBoxLayout::LeftToRight)) {
    setObjectName(QStringLiteral("firstScreen"));
    strip_->setObjectName(QStringLiteral("firstStrip"));
    strip_->setAccessibleName(tr("The demo, running"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 12, 18, 14);
    column->setSpacing(8);
    recent_->setSpacing(4);
    column->addWidget(sentence_);
    column->addSpacing(6);
    column->addWidget(before_);
    column->addLayout(recent_);
    column->addSpacing(6);
    column->addWidget(demo_);
    column->addWidget(strip_, 1);
    demos_->setSpacing(6);
    for (std::size_t i = 0; i < demoCounts().size(); ++i) {
        const qint64 count = demoCounts()[i];
        connect(addButton(demos_, QStringLiteral("firstDemo%1").arg(count),
                          tr("Run %1  Ctrl+%2").arg(grouped(count)).arg(i + 1)),
                &QPushButton::clicked, this, [this, count] { workspace_.opening().openDemo(count); });
    }
    demos_->addStretch(1);
    column->addLayout(demos_);
    connect(&look_, &Look::changed, this, &FirstScreen::restyle);
    setRecent({});
    restyle();
}

QPushButton* FirstScreen::addButton(QLayout* to, const QString& name, const QString& text) {
    auto* made = new QPushButton(text);
    made->setObjectName(name);
    made->setFont(look_.font(12.5));
    buttons_ << made;
    to->addWidget(made);
    return made;
}

void FirstScreen::setRecent(const QStringList& paths) {
    before_->setVisible(!paths.isEmpty());
    for (const QString& path : paths.mid(0, kMostRecent)) {
        const QFileInfo file(path);
        QPushButton* button = addButton(recent_, QStringLiteral("firstRecent"), file.fileName());
        button->setToolTip(path);
        button->setAccessibleName(tr("Open %1").arg(path));
        connect(button, &QPushButton::clicked, this, [this, path] { workspace_.opening().open(path); });
    }
}

void FirstScreen::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (strip_->collection() == nullptr && !job_.isBusy()) {
        QTimer::singleShot(kRunAfterMs, this, &FirstScreen::run);
    }
}

void FirstScreen::run() {
    if (job_.isBusy() || isHidden()) {
        return;
    }
    job_.start([](const std::stop_token& stop,
                  const render::Job::Post&) { return workbench::openDemo(kRecords, stop, {}); },
               [this](const Result<Opened>& opened) {
                   if (opened) {
                       (void)static_cast<bool>(
                           strip_->setCollection(opened->document, opened->records,
                                                 picturesOf(opened->document, {nullptr, nullptr, {}})));
                   }
               });
}

void FirstScreen::restyle() {
    sentence_->setFont(look_.font(15));
    sentence_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.ink.name()));
    for (QLabel* label : {demo_, before_}) {
        label->setFont(look_.font(12.5, 600));
        label->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    }
    for (QPushButton* button : std::as_const(buttons_)) {
        button->setFont(look_.font(12.5));
    }
    // Large words have no room beside each other.
    demos_->setDirection(look_.textScale() > 1.3 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    strip_->setColours(look_.items);
}

} // namespace scorrere::workbench

#include "moc_first_screen.cpp"
