// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "service/survey_server.h"
#include "workbench/model/answer.h"
#include "workbench/ui/look/look.h"

#include <QButtonGroup>
#include <QLabel>
#include <QPlainTextEdit>
#include <QStackedWidget>
#include <QTableWidget>
#include <memory>
#include <vector>

namespace scorrere::workbench {

class AnswerTree;

/// What came back: its status, where the time went, and the body as a tree, as text, its headers, and (for
/// the demo service) what the other side received.
class AnswerPane : public QWidget {
    Q_OBJECT
public:
    explicit AnswerPane(Look& look, QWidget* parent = nullptr);
    void setAnswer(std::shared_ptr<const Answer> answer);
    void setError(const QString& text);
    void setReceived(const std::vector<service::ReceivedCall>& calls);
    void showReceivedTab(bool shown);
    AnswerTree& tree() { return *tree_; }

private:
    void tell();
    void showTab(int tab);
    void restyle();

    Look& look_;
    std::shared_ptr<const Answer> answer_;
    QLabel* heading_;
    QLabel* status_;
    QWidget* times_;
    QLabel* problem_;
    QButtonGroup* tabs_;
    QStackedWidget* stack_;
    AnswerTree* tree_;
    QPlainTextEdit* text_;
    QPlainTextEdit* headers_;
    QTableWidget* received_;
};

} // namespace scorrere::workbench
