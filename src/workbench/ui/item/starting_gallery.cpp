// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/starting_gallery.h"

#include "render/live_collection.h"
#include "workbench/ui/look/labels.h"

#include <QAbstractButton>
#include <QPainter>
#include <QVBoxLayout>

namespace scorrere::workbench {

namespace {

constexpr double kWidth = 360; ///< px of the item that is drawn

} // namespace

class StartingGallery::Tile final : public QAbstractButton {
public:
    Tile(Look& look, QWidget* parent) : QAbstractButton(parent), look_(look) {
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
    }

    void set(const StartingPoint& point, const CollectionDocument& document,
             const std::shared_ptr<const RecordTable>& records, std::int64_t record,
             std::shared_ptr<render::PictureCache> pictures) {
        setObjectName(QStringLiteral("start_") +
                      QString::fromStdString(point.name).replace(QLatin1Char(' '), QLatin1Char('_')));
        setAccessibleName(QString::fromStdString(point.name));
        setToolTip(QString::fromStdString(point.about));
        point_ = point;
        nlohmann::ordered_json json = {{"items", {{"record", point.design}}}};
        const auto made = document.withDesign(json.dump());
        view_.reset();
        model_.reset();
        if (!made || records->size() == 0) {
            return;
        }
        model_ = std::make_unique<BoardModel>();
        model_->setRecords(records);
        model_->setPictures(pictures);
        model_->setSettings({{kWidth, 1, 1}});
        HardRecord shown;
        shown.record = record;
        if (!model_->setDesign(*made, kRecordDesign)) {
            model_.reset();
            return;
        }
        model_->setHard({shown}, {});
        view_ = model_->specimens().empty() ? nullptr : std::move(model_->specimens().front().view);
        pictures_ = std::move(pictures);
        updateGeometry();
        update();
    }
    const StartingPoint& point() const { return point_; }

    QSize sizeHint() const override {
        const double shown = view_ ? std::min(view_->height().toPx(), 190.0) : 40;
        return {static_cast<int>(look_.scaled(280)), static_cast<int>(shown * scale() + look_.scaled(26))};
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        const QRectF item(0, look_.scaled(20), width(), height() - look_.scaled(20) - 2);
        painter.setFont(look_.font(12, 600));
        painter.setPen(look_.ink);
        painter.drawText(QRectF(0, 0, width(), look_.scaled(18)), Qt::AlignLeft | Qt::AlignVCenter,
                         QString::fromStdString(point_.name));
        painter.fillRect(item, look_.items.paper);
        if (view_ && pictures_ != nullptr) {
            painter.save();
            painter.setClipRect(item);
            painter.translate(item.topLeft());
            painter.scale(item.width() / kWidth, item.width() / kWidth);
            view_->paint(painter,
                         {.colours = look_.items, .pictures = *pictures_, .shapes = shapes_, .density = 1});
            painter.restore();
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(hasFocus() || underMouse() ? look_.accent : look_.edge, hasFocus() ? 2 : 1));
        painter.drawRect(item.adjusted(0.5, 0.5, -0.5, -0.5));
    }

private:
    double scale() const { return look_.scaled(280) / kWidth; }
    Look& look_;
    StartingPoint point_;
    std::unique_ptr<BoardModel> model_;
    std::unique_ptr<render::ItemView> view_;
    std::shared_ptr<render::PictureCache> pictures_;
    render::ShapeCache shapes_;
};

StartingGallery::StartingGallery(Look& look, QWidget* parent)
    : QWidget(parent), look_(look), heading_(new QLabel(this)) {
    setObjectName(QStringLiteral("startingGallery"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 12, 16, 12);
    column->setSpacing(9);
    heading_->setWordWrap(true);
    column->addWidget(heading_);
    for (int i = 0; i < 6; ++i) {
        auto* tile = new Tile(look_, this);
        tiles_ << tile;
        column->addWidget(tile);
        connect(tile, &QAbstractButton::clicked, this, [this, tile] {
            Q_EMIT chosen(QString::fromStdString(tile->point().name), tile->point().design);
        });
    }
    column->addStretch(1);
    turn_.setInterval(4);
    connect(&turn_, &QTimer::timeout, this, &StartingGallery::makeNext);
    const auto restyle = [this] {
        heading_->setFont(look_.font(12.5));
        heading_->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
        heading_->setText(
            tr("Click a part to change it. Or begin anew from one of these, bound to your fields; "
               "Ctrl+Z brings the present design back."));
    };
    connect(&look_, &Look::changed, this, restyle);
    restyle();
}

StartingGallery::~StartingGallery() = default;

void StartingGallery::show(const CollectionDocument& document, std::shared_ptr<const RecordTable> records,
                           std::int64_t record, std::shared_ptr<render::PictureCache> pictures) {
    const std::string address = [&] { // the present design knows where the pictures are
        const std::function<std::string(const PartSpec&)> find = [&](const PartSpec& part) -> std::string {
            if (part.type == PartType::Picture) {
                return part.binding;
            }
            for (const PartSpec& child : part.children) {
                if (std::string found = find(child); !found.empty()) {
                    return found;
                }
            }
            return {};
        };
        return find(document.item);
    }();
    const bool same = records == records_ && record == record_ && pictures == pictures_ &&
                      address == address_ && document.locale == document_.locale;
    if (same) {
        return;
    }
    document_ = document;
    records_ = std::move(records);
    address_ = address;
    record_ = record;
    pictures_ = std::move(pictures);
    points_.clear();
    next_ = 0;
    turn_.start();
}

void StartingGallery::makeNext() {
    if (points_.empty()) {
        points_ = startingPoints(*records_, address_);
        return;
    }
    if (next_ >= points_.size() || next_ >= static_cast<std::size_t>(tiles_.size())) {
        turn_.stop();
        return;
    }
    tiles_[static_cast<qsizetype>(next_)]->set(points_[next_], document_, records_, record_, pictures_);
    ++next_;
}

} // namespace scorrere::workbench

#include "moc_starting_gallery.cpp"
