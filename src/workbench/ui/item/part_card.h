// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"
#include "workbench/model/design_edit.h"
#include "workbench/ui/look/look.h"

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace scorrere::workbench {

class PartFormats;
class PartTones;

/// The card of the part that is chosen: what it says, what it does when that is missing, its tone, its look in a
/// sentence, and the facts about it. It shows; what the developer wants goes out as a draft.
class PartCard : public QFrame {
    Q_OBJECT
public:
    PartCard(Look& look, BoardModel& model, QWidget* parent = nullptr);

    /// Shows another part, or the same after a change. What is being typed stays as it is.
    void show(const DesignDraft& draft, const std::string& pointer);
    /// What is wrong with what was typed last.
    void setError(const QString& problem, const QString& missingParameter = {});
    /// A word of it is still being typed.
    bool isTyping() const;
    void focusBinding();
    const std::string& pointer() const { return pointer_; }

Q_SIGNALS:
    /// `merge`: changes of the same thing in a row are one.
    void draftWanted(const QString& what, const scorrere::workbench::DesignDraft& draft,
                     const QString& merge);
    void parameterWanted(const QString& name, const QVariant& value);
    void parameterChanged(const QString& name, const scorrere::Parameter& to);
    /// The parameter that was missing is to be made, and what was refused for it done.
    void missingWanted();
    void typingEnded();
    void removeWanted();
    void duplicateWanted();
    void wrapWanted(QPoint global);
    void unwrapWanted();

private:
    void rebuild();
    void rebuildAround(bool samePart);
    void clear();
    QLabel* addLabel(const QString& text, double px, bool quiet);
    QLineEdit* addLine(const QString& name, const QString& heading, const QString& value, const QString& hint,
                       const std::function<void(const QString&)>& typed, const QString& aside = {});
    void addBinding(const std::string& word);
    void addMissing();
    void addParameters();
    void addHide();
    void addPictureLines();
    void addRepeatLines();
    void addStripLines();
    void addInputs();
    void addFacts();
    void addButtons();
    void offerFieldsOf(QLineEdit* line);
    void tellOutcomes();

    using Json = nlohmann::ordered_json;
    void want(const QString& what, const std::string& member, const Json& value);
    void wantText(const QString& what, const std::string& member, const QString& value);

    Look& look_;
    BoardModel& model_;
    DesignDraft draft_;
    std::string pointer_;
    QVBoxLayout* column_;
    QLineEdit* binding_ = nullptr;
    QLabel* outcomes_ = nullptr;
    QLabel* problem_ = nullptr;
    QPushButton* make_ = nullptr;
    PartFormats* formats_ = nullptr; ///< null: no text
    PartTones* tones_ = nullptr;     ///< null: it has no tone
    QLabel* facts_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* shown_ = nullptr;
    std::string built_; ///< what the card was made for: pointer and members
};

} // namespace scorrere::workbench
