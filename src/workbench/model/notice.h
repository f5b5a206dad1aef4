// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/result.h"

#include <QList>
#include <QString>
#include <QStringList>
#include <functional>
#include <optional>

namespace scorrere::workbench {

/// Something that people are told. Values; whoever hears of one decides how it shows.
struct Notice {
    enum class Kind : std::uint8_t {
        Told,     ///< worth knowing
        Failed,   ///< something that was wanted did not come about; `error` says why
        Progress, ///< something is under way
        Over,     ///< what was under way, or told, is not so any more
    };
    Kind kind = Kind::Over;
    QString text;
    std::optional<Error> error;
    double share = -1;     ///< how far what is under way is, 0 to 1; below 0: nobody knows
    QString about;         ///< what an update, or the end of what is under way, can name; may be empty
    bool canCancel = true; ///< what is under way
    bool isUpdate = false; ///< of the notice about the same, if that still stands: once closed it stays so

    static Notice told(const QString& text) { return {Kind::Told, text, {}, -1, {}, true, false}; }
    static Notice failed(const QString& text, const Error& error) {
        return {Kind::Failed, text, error, -1, {}, true, false};
    }
    static Notice under(const QString& about, const QString& text, double share, bool canCancel = true) {
        return {Kind::Progress, text, {}, share, about, canCancel, false};
    }
    static Notice over(const QString& about) { return {Kind::Over, {}, {}, -1, about, true, false}; }
};

/// Something that people are asked. Nothing waits for the answer: what was asked about goes on when it comes.
struct Question {
    struct Choice {
        QString name; ///< "save"
        QString text;
    };
    QString about; ///< a question about the same replaces one that waits
    QString text;
    QStringList lines;     ///< each can be left out
    QList<Choice> choices; ///< the last one changes nothing
    /// The choice's name, and the lines that stay chosen.
    std::function<void(const QString& choice, const QList<int>& lines)> answered;
};

} // namespace scorrere::workbench
