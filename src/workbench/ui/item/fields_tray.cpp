// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/fields_tray.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QStyleOptionButton>
#include <algorithm>

namespace scorrere::workbench {

namespace {

/// Name at the start, samples at the end, as much as fits.
class FieldButton final : public QPushButton {
public:
    FieldButton(Look& look, const QString& name, const QString& samples, QWidget* parent)
        : QPushButton(parent), look_(look), name_(name), samples_(samples) {
        setObjectName(QStringLiteral("field_") + name);
        setAccessibleName(QObject::tr("Add %1, as in %2").arg(name, samples));
        setToolTip(QObject::tr("Add %1 to the design").arg(name));
        setCursor(Qt::PointingHandCursor);
        setFixedHeight(static_cast<int>(look.scaled(27)));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF at = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
        painter.setPen(QPen(hasFocus() ? look_.accent : look_.edge, hasFocus() ? 2 : 1));
        painter.setBrush(underMouse() ? look_.ground : look_.card);
        painter.drawRoundedRect(at, at.height() / 2, at.height() / 2);
        const QRectF inner = at.adjusted(13, 0, -13, 0);
        painter.setFont(look_.font(12.5, 600));
        painter.setPen(look_.ink);
        const QFontMetricsF metrics(painter.font());
        const QString name = metrics.elidedText(name_, Qt::ElideRight, inner.width() * 0.6);
        painter.drawText(inner, Qt::AlignLeft | Qt::AlignVCenter, name);
        const QRectF right = inner.adjusted(metrics.horizontalAdvance(name) + 12, 0, 0, 0);
        painter.setFont(look_.font(11));
        painter.setPen(look_.quiet);
        painter.drawText(right, Qt::AlignRight | Qt::AlignVCenter,
                         QFontMetricsF(painter.font()).elidedText(samples_, Qt::ElideRight, right.width()));
    }

private:
    Look& look_;
    QString name_;
    QString samples_;
};

} // namespace

FieldsTray::FieldsTray(Look& look, QWidget* parent)
    : QWidget(parent), look_(look), column_(new QVBoxLayout(this)) {
    setObjectName(QStringLiteral("fieldsTray"));
    column_->setContentsMargins(4, 4, 4, 8);
    column_->setSpacing(4);
    connect(&look_, &Look::changed, this, &FieldsTray::rebuild);
}

void FieldsTray::show(const RecordTable* records, const ItemDesign* design) {
    const std::int64_t size = records == nullptr ? -1 : records->size();
    const auto sameFields = [&] {
        return records == nullptr ||
               (all_.size() == records->fields().size() &&
                std::ranges::equal(all_, records->fields(), [](const Row& row, const Field& field) {
                    return row.name.toStdString() == field.name && row.type == field.type;
                }));
    };
    if (size != looked_ || !sameFields()) {
        looked_ = size;
        all_.clear();
        for (int i = 0; records != nullptr && i < static_cast<int>(records->fields().size()); ++i) {
            const FieldHandle field{i};
            QStringList samples;
            for (std::int64_t r = 0; r < std::min<std::int64_t>(size, 40) && samples.size() < 3; ++r) {
                const QString value =
                    QString::fromStdString(records->display(r, field)).simplified().left(24);
                if (!value.isEmpty() && !samples.contains(isolated(value))) {
                    samples << isolated(value);
                }
            }
            all_.push_back({QString::fromStdString(records->field(field).name),
                            samples.join(QStringLiteral(" · ")), records->field(field).type});
        }
    }
    std::vector<Row> rows;
    for (int i = 0; i < static_cast<int>(all_.size()) && records != nullptr; ++i) {
        if (design == nullptr ||
            std::ranges::find(design->fields(), FieldHandle{i}) == design->fields().end()) {
            rows.push_back(all_[static_cast<std::size_t>(i)]);
        }
    }
    if (rows != rows_) {
        rows_ = std::move(rows);
        rebuild();
    }
}

void FieldsTray::rebuild() {
    qsizetype focused = -1;
    const auto buttons = findChildren<QPushButton*>(Qt::FindDirectChildrenOnly);
    for (qsizetype i = 0; i < buttons.size(); ++i) {
        focused = buttons[i]->hasFocus() ? i : focused;
    }
    while (QLayoutItem* item = column_->takeAt(0)) {
        if (item->widget() != nullptr) {
            item->widget()->hide();
            item->widget()->setObjectName({});
            item->widget()->deleteLater();
        }
        delete item;
    }
    if (rows_.empty()) {
        if (focused >= 0) {
            Q_EMIT emptied();
        }
        return;
    }
    auto* heading = new QLabel(tr("Fields not shown yet"), this);
    heading->setFont(look_.font(12, 650));
    heading->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    column_->addWidget(heading);
    for (const Row& row : rows_) {
        auto* button = new FieldButton(look_, row.name, row.samples, this);
        connect(button, &QPushButton::clicked, this, [this, row] { Q_EMIT fieldWanted(row.name, row.type); });
        column_->addWidget(button);
        // The one that comes to stand where one was; the last, behind it.
        if (focused >= 0 && (column_->count() == focused + 2 || &row == &rows_.back())) {
            button->show();
            button->setFocus();
            focused = column_->count() == focused + 2 ? -1 : focused;
        }
    }
}

} // namespace scorrere::workbench

#include "moc_fields_tray.cpp"
