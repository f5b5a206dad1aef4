// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/arrangement_card.h"

#include "render/scroll_input.h"
#include "workbench/model/devices.h"
#include "workbench/model/table_design.h"
#include "workbench/ui/look/arrangement_words.h"

#include <QAbstractButton>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScreen>
#include <QWheelEvent>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr int kColumns = 5;
constexpr int kTurnMs = 4;
constexpr int kPictureMiB = 8;      ///< for each
constexpr double kTileWidth = 148;  ///< px at text scale 1
constexpr double kTileHeight = 176; ///< of the window in it

struct Start {
    const char* words;
    bool isSideways;
};
constexpr Start kStarts[] = {{"a list", false},
                             {"a grid of 2 columns", false},
                             {"a grid of 3 columns", false},
                             {"2 ragged columns", false},
                             {"a table", false},
                             {"a list", true},
                             {"a grid of 2 columns", true},
                             {"2 ragged columns", true},
                             {"a pager", true}};

QString nameOf(const ArrangementSpec& spec) {
    const QString words = arrangementInWords(spec);
    return spec.sideways ? QObject::tr("%1, sideways").arg(words) : words;
}

} // namespace

std::vector<ArrangementSpec> arrangementStarts(const ArrangementSpec& now) {
    std::vector<ArrangementSpec> all;
    for (const Start& start : kStarts) {
        ArrangementSpec spec = arrangementFromWords(QLatin1String(start.words), now).value_or(now);
        spec.sideways = !start.isSideways ? std::nullopt : std::optional(now.sideways.value_or(Sideways()));
        all.push_back(spec);
    }
    return all;
}

class ArrangementCard::Tile final : public QAbstractButton {
public:
    Tile(ArrangementCard& card, const ArrangementSpec& spec) : QAbstractButton(&card), card_(card) {
        setObjectName(QStringLiteral("arrange_") + nameOf(spec).replace(QLatin1Char(' '), QLatin1Char('_')));
        setText(nameOf(spec));
        setAccessibleName(text());
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
    }

    /// A design that does not fit, or records that are not here, leave its name alone.
    void run(const ArrangementSpec& spec) {
        CollectionDocument document = card_.shown_.document;
        document.arrangement = spec;
        document = asTable(std::move(document));
        document.pictureBudgetMiB = kPictureMiB;
        auto made = render::LiveCollection::create(document, card_.shown_.records, card_.shown_.pictures,
                                                   render::Estimating::Never);
        if (!made) {
            return;
        }
        live_ = std::move(*made);
        connect(live_.get(), &render::LiveCollection::frameWanted, &card_.driver_,
                &render::FrameDriver::want);
        connect(live_.get(), &render::LiveCollection::frameWanted, this, qOverload<>(&QWidget::update));
        const DeviceWindow window = deviceWindow(document);
        const double width = std::min(window.width, 520);
        live_->setWindow(width, width * kTileHeight / kTileWidth);
        if (std::holds_alternative<PagerSpec>(spec.form)) { // rather an item than the header
            live_->run().jumpTo(live_->run().arrangement().positionOf(0));
        }
        live_->frame(card_.driver_.nowUs());
        card_.driver_.want();
        update();
    }
    /// Tells whether more is to come.
    bool frame(std::int64_t timeUs) {
        if (live_ == nullptr || live_->isIdle()) {
            return false;
        }
        live_->frame(timeUs);
        update();
        return !live_->isIdle();
    }
    QSize sizeHint() const override {
        const Look& look = card_.look_;
        return QSizeF(look.scaled(kTileWidth), look.scaled(kTileHeight + 22)).toSize();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        Look& look = card_.look_;
        QPainter painter(this);
        painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        const QRectF at(0, look.scaled(20), width(), height() - look.scaled(20));
        painter.setFont(look.font(11.5, 600));
        painter.setPen(look.ink);
        painter.drawText(QRectF(0, 0, width(), look.scaled(18)), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(text(), Qt::ElideRight, width()));
        painter.fillRect(at, look.items.paper);
        if (live_ != nullptr) {
            painter.save();
            painter.setClipRect(at);
            painter.translate(at.topLeft());
            painter.scale(scale(), scale());
            live_->paintWindow(painter, look.items, scale() * devicePixelRatioF());
            painter.restore();
        }
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(hasFocus() || underMouse() ? look.accent : look.edge, hasFocus() ? 2 : 1));
        painter.drawRect(at.adjusted(0.5, 0.5, -0.5, -0.5));
    }
    void wheelEvent(QWheelEvent* event) override {
        if (live_ != nullptr) {
            const QPointF at = event->position() - QPointF(0, card_.look_.scaled(20));
            render::ScrollInput::wheel(*event, *live_, scale(), at / scale());
            card_.driver_.want();
        }
        event->accept();
    }
    void keyPressEvent(QKeyEvent* event) override {
        const qsizetype at = card_.tiles_.indexOf(this);
        const qsizetype to = event->key() == Qt::Key_Right  ? at + 1
                             : event->key() == Qt::Key_Left ? at - 1
                             : event->key() == Qt::Key_Down ? at + kColumns
                             : event->key() == Qt::Key_Up   ? at - kColumns
                                                            : at;
        if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
            click();
        } else if (to != at) {
            card_.tiles_[std::clamp<qsizetype>(to, 0, card_.tiles_.size() - 1)]->setFocus();
        } else {
            QAbstractButton::keyPressEvent(event);
        }
    }
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

private:
    double scale() const { return width() / std::max(live_->axis().window().width(), 1.0); }

    ArrangementCard& card_;
    std::unique_ptr<render::LiveCollection> live_;
};

ArrangementCard::ArrangementCard(Look& look, Shown shown, QWidget* parent)
    : QFrame(parent, Qt::Popup), look_(look), shown_(std::move(shown)),
      specs_(arrangementStarts(shown_.document.arrangement)) {
    setObjectName(QStringLiteral("arrangementCard"));
    setAttribute(Qt::WA_DeleteOnClose);
    setStyleSheet(QStringLiteral("#arrangementCard { background: %1; border: 1px solid %2; }")
                      .arg(look.card.name(), look.edge.name()));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(16, 12, 16, 14);
    grid->setSpacing(12);
    auto* heading = new QLabel(tr("Your records in each: scroll in one, click one. Ctrl+Z takes it back."));
    heading->setFont(look.font(12.5));
    heading->setStyleSheet(QStringLiteral("color: %1;").arg(look.quiet.name()));
    heading->setWordWrap(true);
    grid->addWidget(heading, 0, 0, 1, kColumns);
    for (std::size_t i = 0; i < specs_.size(); ++i) {
        auto* tile = new Tile(*this, specs_[i]);
        tiles_ << tile;
        grid->addWidget(tile, 1 + static_cast<int>(i) / kColumns, static_cast<int>(i) % kColumns);
        connect(tile, &QAbstractButton::clicked, this, [this, i] {
            Q_EMIT chosen(specs_[i]);
            close();
        });
    }
    turn_.setInterval(kTurnMs);
    connect(&turn_, &QTimer::timeout, this, &ArrangementCard::makeNext);
    connect(&driver_, &render::FrameDriver::frameDue, this, &ArrangementCard::makeFrames);
    turn_.start();
}

ArrangementCard::~ArrangementCard() = default;

void ArrangementCard::makeNext() {
    if (next_ >= tiles_.size()) {
        turn_.stop();
        return;
    }
    tiles_[next_]->run(specs_[static_cast<std::size_t>(next_)]);
    ++next_;
}

void ArrangementCard::makeFrames(std::int64_t timeUs) {
    bool isMore = false;
    for (Tile* tile : std::as_const(tiles_)) {
        isMore = tile->frame(timeUs) || isMore;
    }
    if (!isMore) {
        driver_.rest();
    }
}

void ArrangementCard::openAt(const QWidget& word) {
    adjustSize();
    const QRect room = word.screen()->availableGeometry();
    QPoint at = word.mapToGlobal(QPoint(0, word.height() + 4));
    at.setX(std::max(room.left(), std::min(at.x(), room.right() - width() - 8)));
    at.setY(std::max(room.top(), std::min(at.y(), room.bottom() - height() - 8)));
    move(at);
    show();
    // The one that runs now, if it is among them.
    const QString now = nameOf(shown_.document.arrangement);
    const auto present = std::ranges::find(tiles_, now, [](const Tile* tile) { return tile->text(); });
    (present == tiles_.end() ? tiles_.front() : *present)->setFocus();
}

} // namespace scorrere::workbench

#include "moc_arrangement_card.cpp"
