// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/design_edit.h"
#include "workbench/ui/look/sentence_bar.h"

namespace scorrere::workbench {

/// The look of a part as sentences whose words are the controls: its type, colour, shape, size, what it holds
/// and how it stands in its box. Made anew for another part or another look.
class PartSentence : public SentenceBar {
    Q_OBJECT
public:
    /// Requires: the draft has the part.
    PartSentence(Look& look, const DesignDraft& draft, const std::string& pointer, QWidget* parent = nullptr);

Q_SIGNALS:
    /// A member of the part is to have this value, or to go (null).
    void wanted(const QString& what, const std::string& member, const nlohmann::ordered_json& value);

private:
    using Json = nlohmann::ordered_json;
    struct Word {
        QString name;
        QString what;
        std::string member;
        QStringList choices;
        std::function<QString(const Json&)> say;
        std::function<std::optional<Json>(const QString&)> read; ///< nothing: it means nothing
        QString hint;
    };
    void add(const Word& word);
    void addTextWords(const std::string& word);
    void addPictureWords(const std::string& word);
    void addMeterWords(const std::string& word);
    void addScaleWords(const std::string& word);
    void addLineWords(const std::string& word);
    void addSpaceWords(const std::string& word);
    void addBoxWords(const std::string& word);
    void addSizeWords(const std::string& word);
    void addManners(const std::string& word);
    void addLimits();
    Word numberWord(const QString& name, const QString& what, const std::string& member, double otherwise,
                    const QStringList& choices, const QString& unit = {});
    Word colourWord(const std::string& word);
    Word weightWord(int otherwise);
    Word alignWord(const std::string& otherwise);
    Word openWord(const QString& name, const QString& what, const std::string& member,
                  const QString& otherwise);
    Word choiceWord(const QString& name, const QString& what, const std::string& member,
                    const char* otherwise, const QStringList& choices);

    const DesignDraft draft_;
    const std::string pointer_;
};

} // namespace scorrere::workbench
