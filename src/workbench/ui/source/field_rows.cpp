// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/field_rows.h"

#include <algorithm>

namespace scorrere::workbench {

namespace {

/// "whole numbers".
QString plural(FieldType type) {
    switch (type) {
    case FieldType::Integer:
        return QObject::tr("whole numbers");
    case FieldType::Real:
        return QObject::tr("numbers");
    case FieldType::Boolean:
        return QObject::tr("yes or no");
    case FieldType::Time:
        return QObject::tr("times");
    case FieldType::List:
        return QObject::tr("lists");
    case FieldType::Object:
        return QObject::tr("objects");
    default:
        return QObject::tr("texts");
    }
}

QString typeWord(FieldType type) {
    const std::string_view name = typeName(type);
    return QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()));
}

/// Why a field has its type.
QString why(const FieldsKnown& known, const Field& field, const FieldProfile* profile) {
    const auto& choices = known.source.reading.fields;
    const auto choice = std::ranges::find(choices, field.name, &FieldChoice::name);
    if (choice != choices.end() && choice->type != FieldType::Unknown) {
        return choice->locale.empty()
                   ? QObject::tr("chosen")
                   : QObject::tr("chosen, as written in %1").arg(QString::fromStdString(choice->locale));
    }
    const QString nested = choice != choices.end() && !choice->path.empty()
                               ? QObject::tr("at %1, ").arg(QString::fromStdString(choice->path))
                               : QString();
    if (known.widenings != nullptr) {
        const auto widening = std::ranges::find(*known.widenings, field.name, &Widening::field);
        if (widening != known.widenings->end()) {
            return nested + QObject::tr("%1 until record %2: “%3”")
                                .arg(typeWord(widening->from), grouped(widening->record + 1),
                                     QString::fromStdString(widening->value).simplified());
        }
    }
    return nested + (field.type == FieldType::Unknown ? QObject::tr("no record has a value")
                     : profile == nullptr             ? QString()
                     : profile->present == 1
                         ? QObject::tr("by its one value")
                         : QObject::tr("all %1 are %2").arg(grouped(profile->present), plural(field.type)));
}

} // namespace

std::vector<FieldsView::Row> fieldRows(const FieldsKnown& known) {
    std::vector<FieldsView::Row> rows;
    const auto& choices = known.source.reading.fields;
    const std::vector<std::string> key = !known.source.key.empty()      ? known.source.key
                                         : known.examination != nullptr ? known.examination->key
                                                                        : std::vector<std::string>();
    for (std::size_t i = 0; known.records != nullptr && i < known.records->fields().size(); ++i) {
        const Field& field = known.records->fields()[i];
        FieldsView::Row row;
        row.name = field.name;
        row.type = field.type;
        row.tableField = static_cast<int>(i);
        const auto choice = std::ranges::find(choices, field.name, &FieldChoice::name);
        if (choice != choices.end()) {
            row.title = choice->title;
            row.locale = choice->locale;
            row.isChosen = choice->type != FieldType::Unknown;
            row.isLeftOut = choice->leftOut;
        }
        row.isKey = std::ranges::find(key, field.name) != key.end();
        if (known.examination != nullptr) {
            const auto& profiles = known.examination->profiles;
            const auto profile = std::ranges::find(profiles, field.name, &FieldProfile::name);
            row.profile = profile == profiles.end() ? nullptr : &*profile;
        }
        row.why = why(known, field, row.profile).toStdString();
        rows.push_back(std::move(row));
    }
    for (const FieldChoice& choice : choices) {
        const bool isThere = std::ranges::find(rows, choice.name, &FieldsView::Row::name) != rows.end();
        if (choice.leftOut && !isThere) {
            FieldsView::Row row;
            row.name = choice.name;
            row.title = choice.title;
            row.isLeftOut = true;
            rows.push_back(std::move(row));
        }
    }
    return rows;
}

} // namespace scorrere::workbench
