// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/query_fields.h"

#include "engine/record/uri_template.h"

#include <QHBoxLayout>
#include <QLabel>
#include <algorithm>

namespace scorrere::workbench {

namespace {

QString valueIn(const std::vector<std::pair<std::string, std::string>>& variables, const std::string& name) {
    const auto found = std::ranges::find(variables, name, &std::pair<std::string, std::string>::first);
    return found == variables.end() ? QString() : QString::fromStdString(found->second);
}

} // namespace

QueryFields::QueryFields(Look& look, QWidget* parent) : QWidget(parent), look_(look) {
    setObjectName(QStringLiteral("variables"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 8);
    connect(&look_, &Look::changed, this, &QueryFields::write);
    hide();
}

void QueryFields::setSource(const SourceSpec& source) {
    source_ = source;
    write();
}

void QueryFields::write() {
    qDeleteAll(findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    fields_.clear();
    const auto address = UriTemplate::parse(source_.isPaged() ? source_.address : std::string());
    auto* row = static_cast<QHBoxLayout*>(layout());
    for (const std::string& name : address ? address->names() : std::vector<std::string>()) {
        if (name == source_.pages.from || name == source_.pages.count) {
            continue;
        }
        const QString title = QString::fromStdString(name);
        auto* label = new QLabel(title, this);
        label->setFont(look_.font(12, 600));
        label->setStyleSheet(QStringLiteral("color: %1").arg(look_.quiet.name()));
        auto* field = new QLineEdit(valueIn(source_.variables, name), this);
        field->setObjectName(QStringLiteral("query_") + title);
        field->setAccessibleName(tr("The address's variable %1").arg(title));
        field->setToolTip(tr("What the address asks for as %1; empty: nothing").arg(title));
        field->setFont(look_.font(12));
        connect(field, &QLineEdit::textEdited, this,
                [this, title](const QString& text) { Q_EMIT variableWanted(title, text); });
        row->addWidget(label);
        row->addWidget(field, 1);
        fields_[title] = field;
    }
    setVisible(!fields_.isEmpty());
}

void QueryFields::setValues(const std::vector<std::pair<std::string, std::string>>& variables) {
    source_.variables = variables;
    for (auto field = fields_.begin(); field != fields_.end(); ++field) {
        const QString text = valueIn(variables, field.key().toStdString());
        if (field.value()->text() != text) {
            field.value()->setText(text);
        }
    }
}

} // namespace scorrere::workbench

#include "moc_query_fields.cpp"
