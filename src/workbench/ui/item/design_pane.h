// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QTimer>
#include <QWidget>

namespace scorrere::workbench {

/// The design as the document's JSON, to be read and written. What is typed is taken over as soon as it is a
/// design; until then the last one that was stays, and what is wrong stands below with line and column.
class DesignPane : public QWidget {
    Q_OBJECT
public:
    explicit DesignPane(Look& look, QWidget* parent = nullptr);

    /// The document's text. Left alone while its own words say the same.
    void setText(const QString& text);
    void setError(const std::optional<Error>& error);
    QPlainTextEdit& edit() { return *edit_; }

Q_SIGNALS:
    void textWanted(const QString& text);
    void closeWanted();

private:
    void restyle();

    Look& look_;
    QLabel* heading_;
    QPlainTextEdit* edit_;
    QLabel* problem_;
    QTimer due_;
    bool setting_ = false;
};

} // namespace scorrere::workbench
