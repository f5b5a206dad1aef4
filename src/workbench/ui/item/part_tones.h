// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"
#include "workbench/model/design_edit.h"
#include "workbench/ui/look/look.h"

#include <QVBoxLayout>
#include <QWidget>

namespace scorrere::workbench {

/// The rules of a part's tone, one below the other, each with its tone and its condition; the last adds one. Made anew
/// when their number changes.
class PartTones : public QWidget {
    Q_OBJECT
public:
    /// Requires: the draft has the part.
    PartTones(Look& look, BoardModel& model, const DesignDraft& draft, const std::string& pointer,
              QWidget* parent = nullptr);
    /// The design as it is now, with as many rules as before.
    void setDraft(const DesignDraft& draft) { draft_ = draft; }

Q_SIGNALS:
    /// The member "tone" is to have this value, or to go (null).
    void wanted(const QString& what, const std::string& member, const nlohmann::ordered_json& value);
    void typingEnded();

private:
    using Json = nlohmann::ordered_json;
    Json rules() const;
    void addRule(std::size_t index, const Json& rule);
    std::string firstRule() const;
    void want(const QString& what, const Json& rules) { Q_EMIT wanted(what, "tone", rules); }

    Look& look_;
    BoardModel& model_;
    DesignDraft draft_;
    std::string pointer_;
    QVBoxLayout* column_;
};

} // namespace scorrere::workbench
