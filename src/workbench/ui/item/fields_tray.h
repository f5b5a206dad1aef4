// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/item_design.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

namespace scorrere::workbench {

/// The fields that no part shows yet, each with samples: a click adds it.
class FieldsTray : public QWidget {
    Q_OBJECT
public:
    explicit FieldsTray(Look& look, QWidget* parent = nullptr);
    /// `design`: null shows all fields.
    void show(const RecordTable* records, const ItemDesign* design);

Q_SIGNALS:
    /// The last field was taken from it while it had the focus.
    void emptied();
    void fieldWanted(const QString& name, scorrere::FieldType type);

private:
    void rebuild();

    struct Row {
        QString name;
        QString samples;
        FieldType type = FieldType::Unknown;
        bool operator==(const Row&) const = default;
    };
    Look& look_;
    QVBoxLayout* column_;
    std::vector<Row> rows_;
    std::vector<Row> all_; ///< of the records looked at last
    std::int64_t looked_ = -1;
};

} // namespace scorrere::workbench
