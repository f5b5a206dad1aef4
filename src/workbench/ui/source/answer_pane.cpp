// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/answer_pane.h"

#include "workbench/ui/source/answer_tree.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr int kShownCalls = 200;

QString sizeText(std::int64_t bytes) {
    return bytes < 10'000       ? QObject::tr("%1 bytes").arg(grouped(bytes))
           : bytes < 10'000'000 ? QObject::tr("%1 kB").arg(grouped(bytes / 1000))
                                : QObject::tr("%1 MB").arg(grouped(bytes / 1'000'000));
}

/// Where the time of a call went: one strip in three inks, with the words below it.
class Times : public QWidget {
public:
    Times(Look& look, QWidget* parent) : QWidget(parent), look_(look) {}
    void set(const render::HttpAnswer& http) {
        parts_ = {http.connectMs, http.waitMs, http.transferMs};
        update();
    }
    QSize sizeHint() const override { return {200, static_cast<int>(look_.scaled(28))}; }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const std::array<QColor, 3> inks{look_.known, look_.accent, look_.loaded};
        const std::array<QString, 3> names{tr("connect"), tr("wait"), tr("transfer")};
        const double sum = std::max(parts_[0] + parts_[1] + parts_[2], 0.001);
        double x = 0;
        const double high = look_.scaled(6);
        for (std::size_t i = 0; i < parts_.size(); ++i) {
            const double wide = width() * parts_[i] / sum;
            painter.fillRect(QRectF(x, 2, wide, high), inks[i]);
            x += wide;
        }
        painter.setFont(look_.font(11.5));
        double at = 0;
        for (std::size_t i = 0; i < parts_.size(); ++i) {
            const QString text = QStringLiteral("%1 %2 ms")
                                     .arg(names[i], QString::number(parts_[i], 'f', parts_[i] < 10 ? 1 : 0));
            painter.fillRect(QRectF(at, high + look_.scaled(9), look_.scaled(7), look_.scaled(7)), inks[i]);
            painter.setPen(look_.quiet);
            at += look_.scaled(11);
            painter.drawText(QRectF(at, high + look_.scaled(4), width(), look_.scaled(17)),
                             Qt::AlignLeft | Qt::AlignVCenter, text);
            at += painter.fontMetrics().horizontalAdvance(text) + look_.scaled(12);
        }
    }

private:
    Look& look_;
    std::array<double, 3> parts_{};
};

} // namespace

AnswerPane::AnswerPane(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("answerPane"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 8, 0, 8);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    heading_ = new QLabel(tr("Answer"));
    status_ = new QLabel;
    status_->setObjectName(QStringLiteral("answerStatus"));
    status_->setMinimumWidth(1);
    head->addWidget(heading_);
    head->addStretch(1);
    tabs_ = new QButtonGroup(this);
    stack_ = new QStackedWidget;
    tree_ = new AnswerTree(look_);
    text_ = new QPlainTextEdit;
    headers_ = new QPlainTextEdit;
    received_ = new QTableWidget(0, 4);
    text_->setObjectName(QStringLiteral("answerText"));
    headers_->setObjectName(QStringLiteral("answerHeaders"));
    received_->setObjectName(QStringLiteral("receivedTable"));
    const std::array<std::pair<QString, QWidget*>, 4> tabs{
        {{tr("Tree"), tree_}, {tr("Text"), text_}, {tr("Headers"), headers_}, {tr("Received"), received_}}};
    for (int i = 0; i < 4; ++i) {
        auto* tab = new QToolButton;
        tab->setText(tabs[static_cast<std::size_t>(i)].first);
        tab->setObjectName(QStringLiteral("answerTab%1").arg(i));
        tab->setCheckable(true);
        tab->setChecked(i == 0);
        tab->setFocusPolicy(Qt::TabFocus);
        tabs_->addButton(tab, i);
        head->addWidget(tab);
        stack_->addWidget(tabs[static_cast<std::size_t>(i)].second);
    }
    connect(tabs_, &QButtonGroup::idClicked, this, &AnswerPane::showTab);
    for (QPlainTextEdit* edit : {text_, headers_}) {
        edit->setReadOnly(true);
        edit->setLineWrapMode(edit == text_ ? QPlainTextEdit::NoWrap : QPlainTextEdit::WidgetWidth);
        edit->setFrameShape(QFrame::NoFrame);
    }
    received_->setHorizontalHeaderLabels({tr("call"), tr("status"), tr("bytes"), tr("note")});
    received_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    received_->setSelectionBehavior(QAbstractItemView::SelectRows);
    received_->verticalHeader()->hide();
    received_->setFrameShape(QFrame::NoFrame);
    received_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    received_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    times_ = new Times(look_, this);
    problem_ = new QLabel;
    problem_->setObjectName(QStringLiteral("answerProblem"));
    problem_->setWordWrap(true);
    problem_->setTextFormat(Qt::PlainText);
    column->addLayout(head);
    column->addWidget(status_);
    column->addWidget(times_);
    column->addWidget(problem_);
    column->addWidget(stack_, 1);
    problem_->hide();
    showReceivedTab(false);
    connect(&look_, &Look::changed, this, &AnswerPane::restyle);
    restyle();
    tell();
}

void AnswerPane::setAnswer(std::shared_ptr<const Answer> answer) {
    answer_ = std::move(answer);
    problem_->hide();
    tree_->setAnswer(answer_);
    text_->clear(); // filled when it is looked at: laying it out takes time
    QString headers;
    for (const auto& [name, value] : answer_ ? answer_->http.headers : render::HttpHeaders()) {
        headers += QString::fromStdString(name) + QLatin1String(": ") + QString::fromStdString(value) +
                   QLatin1Char('\n');
    }
    headers_->setPlainText(headers);
    const bool noTree = answer_ && answer_->tree.nodes.empty() && !answer_->text.empty();
    if (tabs_->checkedId() <= 1) {
        showTab(noTree ? 1 : 0);
    }
    tell();
}

void AnswerPane::showTab(int tab) {
    tabs_->button(tab)->setChecked(true);
    stack_->setCurrentIndex(tab);
    if (tab == 1 && answer_ && text_->document()->isEmpty()) {
        text_->setPlainText(QString::fromStdString(answer_->text));
    }
}

void AnswerPane::setError(const QString& text) {
    problem_->setText(text);
    problem_->setVisible(!text.isEmpty());
}

void AnswerPane::tell() {
    const bool isCall = answer_ && answer_->isCall;
    times_->setVisible(isCall);
    tabs_->button(2)->setVisible(isCall);
    if (!answer_) {
        status_->clear();
        return;
    }
    QString status;
    if (isCall) {
        static_cast<Times*>(times_)->set(answer_->http);
        status = QStringLiteral("%1 %2")
                     .arg(answer_->http.status)
                     .arg(QString::fromStdString(answer_->http.reason));
        if (answer_->http.redirects > 0) {
            status += answer_->http.redirects == 1 ? tr(" · after a redirect")
                                                   : tr(" · after %1 redirects").arg(answer_->http.redirects);
        }
        status += QStringLiteral(" · ");
    }
    status += sizeText(answer_->bytes);
    if (answer_->isPart) {
        status += tr(" · the first %1 of it").arg(sizeText(static_cast<std::int64_t>(answer_->text.size())));
    }
    if (answer_->treeIsRecords) {
        status += tr(" · tree: as read");
    }
    status_->setText(status);
    status_->setStyleSheet(
        QStringLiteral("color: %1;")
            .arg((isCall && answer_->http.status >= 400 ? look_.bad : look_.quiet).name()));
}

void AnswerPane::setReceived(const std::vector<service::ReceivedCall>& calls) {
    const int shown = static_cast<int>(std::min<std::size_t>(calls.size(), kShownCalls));
    received_->setRowCount(shown);
    for (int row = 0; row < shown; ++row) { // the newest first
        const service::ReceivedCall& call = calls[calls.size() - 1 - static_cast<std::size_t>(row)];
        const std::array<QString, 4> cells{
            QStringLiteral("%1  %2").arg(call.number).arg(QString::fromStdString(call.what)),
            QString::number(call.status), grouped(call.bytes), QString::fromStdString(call.note)};
        for (int column = 0; column < 4; ++column) {
            received_->setItem(row, column, new QTableWidgetItem(cells[static_cast<std::size_t>(column)]));
        }
    }
}

void AnswerPane::showReceivedTab(bool shown) {
    tabs_->button(3)->setVisible(shown);
    if (!shown && tabs_->checkedId() == 3) {
        showTab(0);
    }
}

void AnswerPane::restyle() {
    heading_->setFont(look_.font(13, 650));
    status_->setFont(look_.font(12));
    problem_->setFont(look_.font(12.5));
    text_->setFont(look_.font(12.5));
    headers_->setFont(look_.font(12.5));
    received_->setFont(look_.font(12));
    received_->horizontalHeader()->setFont(look_.font(11.5));
    received_->verticalHeader()->setDefaultSectionSize(static_cast<int>(look_.scaled(22)));
    for (QAbstractButton* tab : tabs_->buttons()) {
        tab->setFont(look_.font(12));
        tab->setStyleSheet(QStringLiteral("QToolButton { border: none; padding: 2px 7px; color: %1; "
                                          "border-bottom: 2px solid transparent; }"
                                          "QToolButton:checked { color: %2; border-bottom: 2px solid %2; }"
                                          "QToolButton:focus { background: %3; }")
                               .arg(look_.quiet.name(), look_.accent.name(), look_.edge.name()));
    }
    problem_->setStyleSheet(
        QStringLiteral("background: %1; color: %2; border-left: 4px solid %2; padding: 6px 8px;")
            .arg(look_.card.name(), look_.bad.name()));
    tell();
}

} // namespace scorrere::workbench

#include "moc_answer_pane.cpp"
