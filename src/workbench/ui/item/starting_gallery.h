// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/board_model.h"
#include "workbench/model/starting_points.h"
#include "workbench/ui/look/look.h"

#include <QLabel>
#include <QTimer>
#include <QWidget>

namespace scorrere::workbench {

/// The designs one can begin with, each drawn on a record of the collection itself.
class StartingGallery : public QWidget {
    Q_OBJECT
public:
    explicit StartingGallery(Look& look, QWidget* parent = nullptr);
    ~StartingGallery() override;

    /// `record`: what they are drawn on. Each is made in a turn of its own, so that none keeps the interface
    /// waiting; the same question again costs nothing.
    void show(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
              std::int64_t record, std::shared_ptr<render::PictureCache> pictures);

Q_SIGNALS:
    void chosen(const QString& name, const nlohmann::ordered_json& design);

private:
    class Tile;
    void makeNext();

    Look& look_;
    QLabel* heading_;
    QList<Tile*> tiles_;
    std::vector<StartingPoint> points_;
    CollectionDocument document_;
    std::shared_ptr<const RecordTable> records_;
    std::string address_;
    std::int64_t record_ = -1;
    std::shared_ptr<render::PictureCache> pictures_;
    std::size_t next_ = 0;
    QTimer turn_;
};

} // namespace scorrere::workbench
