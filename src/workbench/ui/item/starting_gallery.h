// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/starting_points.h"
#include "workbench/ui/item/board_model.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QWidget>

namespace scorrere::workbench {

/// The designs one can begin with, each drawn on a record of the collection itself.
class StartingGallery : public QWidget {
    Q_OBJECT
public:
    explicit StartingGallery(Look& look, QWidget* parent = nullptr);
    ~StartingGallery() override;

    /// `record`: what they are drawn on. Costs one compilation a design: call it when they are to be seen.
    void show(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
              std::int64_t record, render::PictureCache* pictures);

Q_SIGNALS:
    void chosen(const QString& name, const nlohmann::ordered_json& design);

private:
    class Tile;
    Look& look_;
    QLabel* heading_;
    QList<Tile*> tiles_;
};

} // namespace scorrere::workbench
