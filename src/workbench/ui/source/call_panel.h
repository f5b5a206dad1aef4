// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/source_reading.h"
#include "workbench/ui/look/look.h"

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace scorrere::workbench {

/// What is sent: the address with its variables filled in, headers with secrets masked, and the button that
/// asks. For a list: the list itself.
class CallPanel : public QWidget {
    Q_OBJECT
public:
    explicit CallPanel(Look& look, QWidget* parent = nullptr);

    void setSource(const SourceSpec& source, const CallPreview& preview, bool isAnything);
    void setBusy(bool busy);
    /// Asks for the secret of that name; an empty one hides the question.
    void askSecret(const QString& name, bool refused = false);
    /// Puts the cursor where a list is typed.
    void typeList();
    /// Takes over what was typed in its lines and not entered. True: another place or a list is read by that.
    bool takeTyped();

Q_SIGNALS:
    void askWanted();
    void cancelWanted();
    void placeWanted(const QString& place);
    void fileWanted();
    void variableWanted(const QString& name, const QString& value);
    /// An empty value takes the header away.
    void headerWanted(const QString& name, const QString& value);
    void listWanted(const QString& text);
    void secretGiven(const QString& name, const QString& secret, bool lasting);

private:
    QLabel* addLabel(QVBoxLayout* column, const QString& name);
    QWidget* makeSecretCard();
    void fillVariables(const SourceSpec& source, const CallPreview& preview);
    void takeHeader();
    void restyle();

    Look& look_;
    QLabel* heading_;
    QPushButton* ask_;
    QLineEdit* address_;
    QString place_; ///< what is open
    QPushButton* file_;
    QLabel* shown_;
    QWidget* variables_;
    QLabel* headers_;
    QLineEdit* header_;
    QLabel* problem_;
    QLabel* hint_;
    QPlainTextEdit* list_;
    QPushButton* runList_;
    QWidget* secret_;
    QLabel* secretText_;
    QLineEdit* secretLine_;
    QCheckBox* secretLasts_;
    QString secretName_;
    QList<QLabel*> quiet_;
    QStringList variableNames_;
    bool busy_ = false;
};

} // namespace scorrere::workbench
