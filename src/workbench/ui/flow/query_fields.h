// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "workbench/ui/look/look.h"

#include <QHash>
#include <QLineEdit>
#include <QWidget>

namespace scorrere::workbench {

/// What of a paged address may be asked for otherwise while it runs, a field each: all its variables but
/// those that say which page. Hidden when there are none.
class QueryFields : public QWidget {
    Q_OBJECT
public:
    QueryFields(Look& look, QWidget* parent = nullptr);
    /// The fields of that source; a source that is not paged has none.
    void setSource(const SourceSpec& source);
    void setValues(const std::vector<std::pair<std::string, std::string>>& variables);

Q_SIGNALS:
    void variableWanted(const QString& name, const QString& value);

private:
    void write();

    Look& look_;
    SourceSpec source_;
    QHash<QString, QLineEdit*> fields_;
};

} // namespace scorrere::workbench
