// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/order/order_spec.h"
#include "engine/order/value_counts.h"
#include "engine/record/record_table.h"

#include <QHash>
#include <QStringList>
#include <optional>
#include <string>
#include <vector>

namespace scorrere::workbench {

/// By what records are sorted, in the words of the sentence, and back: "their order", "the order of count",
/// "the order of wingspan_mm, largest first", "the order of species, Z to A, missing first, then count", "an order
/// shuffled by 7". Nothing where the words say no such thing of these fields.
QString sortInWords(const OrderSpec& order, const std::vector<Field>& fields);
std::optional<OrderSpec> sortFromWords(const QString& typed, const OrderSpec& now,
                                       const std::vector<Field>& fields);
/// `areSections`: they can be gathered by their headings, which is said as "their order, section by section".
QStringList sortChoices(const OrderSpec& now, const std::vector<Field>& fields, bool areSections);
/// Shuffled by a seed that is none of the one now.
OrderSpec shuffledAnew(OrderSpec order);

/// Which records there are, in the words of the sentence, and back: "all", "those where status is queried",
/// "those where count is over 5 and note is missing". A rule (RFC 9535) may be typed, and stands as it is where words
/// cannot say it.
QString whereInWords(const std::string& rule, const std::vector<Field>& fields);
/// The rule; empty for all. Nothing where the words say no such thing.
std::optional<std::string> whereFromWords(const QString& typed, const std::vector<Field>& fields);

/// A field's values, and how many records have each; none where it has more than few.
struct FieldValues {
    QString field;
    std::vector<ValueCount> values;
    bool operator==(const FieldValues&) const = default;
};
/// What may be picked: all, and each value of the fields that have few; with what stands beside it.
QStringList whereChoices(const std::vector<FieldValues>& values, QHash<QString, QString>& notes);

/// What is searched: "anything", "“pale moth”", "“pale” in species and note", and back.
QString searchInWords(const OrderSpec& order);
OrderSpec searchFromWords(const QString& typed, OrderSpec now, const std::vector<Field>& fields);

} // namespace scorrere::workbench
