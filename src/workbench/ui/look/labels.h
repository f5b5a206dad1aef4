// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLabel>

namespace scorrere::workbench {

/// A line of text that is cut at a whole letter, with a mark, where it has no room; the tool tip has it all
/// then.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    using QLabel::QLabel;
    QSize minimumSizeHint() const override { return {1, QLabel::minimumSizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;

private:
    QString cut() const;
};

/// Words that wrap, and never have less height than all their lines need.
class WrappedLabel : public QLabel {
    Q_OBJECT
public:
    explicit WrappedLabel(const QString& text = {}, QWidget* parent = nullptr) : QLabel(text, parent) {
        setWordWrap(true);
    }
    QSize minimumSizeHint() const override { return {1, heightForWidth(width())}; }

protected:
    void resizeEvent(QResizeEvent* event) override {
        QLabel::resizeEvent(event);
        updateGeometry();
    }
};

} // namespace scorrere::workbench
