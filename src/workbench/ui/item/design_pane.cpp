// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/design_pane.h"

#include "workbench/ui/look/json_colours.h"

#include <QTextBlock>
#include <QVBoxLayout>
#include <nlohmann/json.hpp>

namespace scorrere::workbench {

namespace {
constexpr int kAfterMs = 120; ///< a pause in typing
}

DesignPane::DesignPane(Look& look, QWidget* parent)
    : QWidget(parent), look_(look), heading_(new QLabel(tr("The design as text"))), edit_(new QPlainTextEdit),
      problem_(new QLabel) {
    setObjectName(QStringLiteral("designPane"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 10, 10, 10);
    column->setSpacing(6);
    edit_->setObjectName(QStringLiteral("designText"));
    edit_->setAccessibleName(tr("The design as JSON"));
    edit_->setLineWrapMode(QPlainTextEdit::WidgetWidth);
    new JsonColours(look_, edit_->document()); // its own
    edit_->setTabChangesFocus(true);
    problem_->setObjectName(QStringLiteral("designProblem"));
    problem_->setWordWrap(true);
    problem_->setTextFormat(Qt::PlainText);
    problem_->setMinimumWidth(1);
    problem_->hide();
    column->addWidget(heading_);
    column->addWidget(edit_, 1);
    column->addWidget(problem_);
    due_.setSingleShot(true);
    due_.setInterval(kAfterMs);
    connect(edit_, &QPlainTextEdit::textChanged, this, [this] {
        if (!setting_) {
            due_.start();
        }
    });
    connect(&due_, &QTimer::timeout, this, [this] { Q_EMIT textWanted(edit_->toPlainText()); });
    connect(&look_, &Look::changed, this, &DesignPane::restyle);
    restyle();
}

void DesignPane::restyle() {
    heading_->setFont(look_.font(12, 650));
    heading_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    QFont fixed(QStringLiteral("Noto Sans Mono"));
    fixed.setStyleHint(QFont::Monospace);
    fixed.setPixelSize(static_cast<int>(look_.scaled(12)));
    edit_->setFont(fixed);
    problem_->setFont(look_.font(12));
    problem_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.bad.name()));
}

void DesignPane::setText(const QString& text) {
    using Json = nlohmann::ordered_json;
    const Json own = Json::parse(edit_->toPlainText().toStdString(), nullptr, false);
    if (!own.is_discarded() && own == Json::parse(text.toStdString(), nullptr, false)) {
        return; // how it is written is the developer's own
    }
    setting_ = true;
    const int place = edit_->textCursor().position();
    edit_->setPlainText(text);
    QTextCursor cursor = edit_->textCursor();
    cursor.setPosition(std::min(place, static_cast<int>(text.size())));
    edit_->setTextCursor(cursor);
    setting_ = false;
    setError(std::nullopt);
}

void DesignPane::setError(const std::optional<Error>& error) {
    problem_->setVisible(error.has_value());
    QList<QTextEdit::ExtraSelection> marks;
    if (error) {
        problem_->setText(QString::fromStdString(error->text()));
        const QTextBlock block =
            edit_->document()->findBlockByNumber(static_cast<int>(error->place.line) - 1);
        if (error->place.line > 0 && block.isValid()) {
            QTextEdit::ExtraSelection mark;
            QColor tint = look_.bad;
            tint.setAlphaF(0.18F);
            mark.format.setBackground(tint);
            mark.format.setProperty(QTextFormat::FullWidthSelection, true);
            mark.cursor = QTextCursor(block);
            marks << mark;
        }
    }
    edit_->setExtraSelections(marks);
}

} // namespace scorrere::workbench

#include "moc_design_pane.cpp"
