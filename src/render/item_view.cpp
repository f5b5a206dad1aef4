// SPDX-License-Identifier: Apache-2.0
#include "render/item_view.h"

#include <QLinearGradient>
#include <QPainterPath>
#include <QPen>
#include <cmath>

namespace scorrere::render {

namespace {

constexpr double kOverhang = 8; ///< px that marks of a script may reach below their text
constexpr qint64 kMostKeptPixels = 1'500'000;
constexpr int kMostPictureSide = 8192;

} // namespace

void ItemView::build(const ItemDesign& design) {
    design_ = &design;
    texts_ = std::vector<std::shared_ptr<const TextBlock>>(design.parts().size());
    boxes_.assign(design.parts().size(), {});
    content_ = {};
    room_.reset();
    keeping_ = Kept::Nothing;
    taps_.clear();
    for (std::size_t i = 0; i < design.parts().size(); ++i) {
        if (!design.parts()[i].tap.empty()) {
            taps_.push_back(static_cast<int>(i));
        }
    }
}

int ItemView::tapTarget(double x, double y) const {
    int target = -1;
    for (const int part : taps_) {
        const PartBox& box = boxes_[static_cast<std::size_t>(part)];
        if (box.shown && x >= box.x.toPx() && y >= box.y.toPx() && x < (box.x + box.width).toPx() &&
            y < (box.y + box.height).toPx()) {
            target = part;
        }
    }
    return target;
}

ItemSize ItemView::fill(const FillContext& context, const Shaping& shaping, const ItemRoom& room,
                        CostMeter& meter) {
    const bool sameFonts = fontsRevision_ == shaping.fonts.revision;
    fonts_ = &shaping.fonts;
    cache_ = &shaping.texts;
    meter_ = &meter;
    keeping_ = Kept::Nothing;
    waits_ = false;
    const FillChange change = design_->fill(context, content_, changed_);
    const bool reshaped = takeShapes(shaping.pictures);
    if (change.layout || reshaped || room != room_ || !sameFonts) {
        size_ = ItemLayout(*design_, content_, *this, boxes_).solve(room);
        room_ = room;
        if (room.columns != nullptr) {
            room_->revision = room.columns->revision(); // what it holds may have widened them
        }
        fontsRevision_ = fonts_->revision;
    }
    return size_;
}

bool ItemView::retone(const FillContext& context) {
    const FillChange change = design_->retone(context, content_);
    if (change.paint) {
        keeping_ = Kept::Nothing;
    }
    if (change.layout) {
        room_.reset(); // the content knows already; the next fill must lay out all the same
    }
    return change.layout;
}

/// The shapes of pictures that are measured when they come. True when one differs.
bool ItemView::takeShapes(const PictureCache* pictures) {
    bool differs = false;
    for (std::size_t i = 0; i < design_->parts().size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        if (!part.aspectMeasured) {
            continue;
        }
        const auto binding = static_cast<std::size_t>(part.binding);
        const float aspect =
            pictures == nullptr || content_.present[binding] == 0
                ? 0
                : static_cast<float>(pictures->aspectOf(QString::fromStdString(content_.values[binding])));
        differs = differs || content_.numbers[i] != aspect;
        content_.numbers[i] = aspect;
    }
    return differs;
}

bool ItemView::awaitsShapeOf(const std::string& address) const {
    if (content_.present.empty()) {
        return false;
    }
    for (std::size_t i = 0; i < design_->parts().size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        if (part.aspectMeasured && content_.numbers[i] == 0 &&
            content_.present[static_cast<std::size_t>(part.binding)] != 0 &&
            content_.values[static_cast<std::size_t>(part.binding)] == address) {
            return true;
        }
    }
    return false;
}

TextSize ItemView::measure(int part, std::string_view text, const TextStyle&, Length maxWidth, int maxLines) {
    const CostMeter::Span span(*meter_, Phase::Measure);
    const std::size_t index = static_cast<std::size_t>(part);
    const int style = design_->parts()[index].style;
    auto shaped = cache_->shaped(text, fonts_->faces[static_cast<std::size_t>(style)], maxWidth, maxLines);
    texts_[index] = std::move(shaped.block);
    return shaped.size;
}

Length ItemView::ascent(int part) {
    const int style = design_->parts()[static_cast<std::size_t>(part)].style;
    return Length::fromPx(fonts_->faces[static_cast<std::size_t>(style)].ascent);
}

bool ItemView::isCut(int part) const {
    const auto& text = texts_[static_cast<std::size_t>(part)];
    return text && boxes_[static_cast<std::size_t>(part)].shown && text->isCut();
}

QString ItemView::title() const {
    if (design_ == nullptr || content_.present.empty()) {
        return {};
    }
    for (const PlanPart& part : design_->parts()) {
        if (part.type == PartType::Text && content_.present[static_cast<std::size_t>(part.binding)] != 0) {
            return QString::fromStdString(content_.values[static_cast<std::size_t>(part.binding)]);
        }
    }
    return {};
}

PictureWish ItemView::wishOf(std::size_t part, double density) const {
    const PlanPart& p = design_->parts()[part];
    const DeviceBox box = inDevicePx(boxes_[part], density);
    const auto side = [](std::int64_t px) {
        return static_cast<int>(std::clamp<std::int64_t>(px, 1, kMostPictureSide));
    };
    return {QString::fromStdString(content_.values[static_cast<std::size_t>(p.binding)]),
            {side(box.right - box.left), side(box.bottom - box.top)},
            p.fit,
            p.focus,
            p.radius.toPx() * density};
}

void ItemView::wantPictures(PictureCache& pictures, double density) {
    wishing_.clear();
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        if (part.type == PartType::Picture && boxes_[i].shown &&
            content_.present[static_cast<std::size_t>(part.binding)] != 0) {
            const PictureWish wish = wishOf(i, density);
            pictures.hold(wish);
            wishing_.push_back(wish.key());
        }
    }
    wishing_.swap(wished_);
    for (const QString& key : wishing_) { // held by both for a moment: what stays is not cancelled
        pictures.letGo(key);
    }
}

/// Where the last part ends that paints something: below it there is paper only.
double ItemView::paintedUntil(const PaintNeeds& needs) const {
    double until = 0;
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        if (!boxes_[i].shown) {
            i = static_cast<std::size_t>(part.subtreeEnd) - 1;
            continue;
        }
        const bool isBare = isBox(part.type) && part.ground.empty() && content_.tones[i] == Tone::Neutral;
        if (!isBare && part.type != PartType::Space) {
            until = std::max(until, rectOf(i, needs).bottom());
        }
    }
    return until + kOverhang;
}

QSize ItemView::keptSize(const PaintNeeds& needs, QSizeF size) const {
    return {static_cast<int>(std::ceil(size.width() * needs.density)),
            static_cast<int>(std::ceil(std::min(size.height(), paintedUntil(needs)) * needs.density))};
}

const QImage* ItemView::keptPicture(const PaintNeeds& needs, QSizeF of, const Parted& parted, int& atOnce) {
    const QSize size = keptSize(needs, of);
    const std::array<QRgb, 2> look{needs.colours.paper.rgb(), needs.colours.ink.rgb()};
    const bool other = keptDensity_ != needs.density || keptLook_ != look || keptParted_ != parted;
    const bool isIt = keeping_ == Kept::Picture && !other && kept_.size() == size;
    // While nothing came of what it waited for, it would look the same.
    if (isIt && (!waits_ || picturesAwaited(needs.pictures, needs.density) == awaited_)) {
        return &kept_;
    }
    const bool tooLarge = qint64{size.width()} * size.height() > kMostKeptPixels || size.isEmpty();
    const bool isSecond = isIt || (keeping_ == Kept::AskedOnce && !other);
    const bool isFirst = keeping_ == Kept::Nothing && atOnce > 0;
    if (tooLarge || (!isSecond && !isFirst)) {
        keeping_ = Kept::AskedOnce;
        keptDensity_ = needs.density;
        keptLook_ = look;
        keptParted_ = parted;
        return nullptr;
    }
    atOnce -= isFirst ? 1 : 0;
    keptDensity_ = needs.density;
    keptLook_ = look;
    keptParted_ = parted;
    if (kept_.size() != size) {
        kept_ = QImage(size, QImage::Format_RGB32);
    }
    kept_.fill(needs.colours.paper);
    QPainter painter(&kept_);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.scale(needs.density, needs.density);
    awaited_ = picturesAwaited(needs.pictures, needs.density);
    paintParted(painter, needs, of.width(), parted);
    waits_ = awaited_ > 0;
    keeping_ = Kept::Picture;
    return &kept_;
}

int ItemView::picturesAwaited(PictureCache& pictures, double density) const {
    int awaited = 0;
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PlanPart& part = design_->parts()[i];
        const bool isOne = part.type == PartType::Picture && boxes_[i].shown &&
                           content_.present[static_cast<std::size_t>(part.binding)] != 0;
        awaited += isOne && pictures.find(wishOf(i, density)).state == PictureState::Loading ? 1 : 0;
    }
    return awaited;
}

void ItemView::paintParted(QPainter& painter, const PaintNeeds& needs, double width,
                           const Parted& parted) const {
    if (parted.stays <= 0) {
        return paint(painter, needs);
    }
    const double height = size_.height.toPx();
    const bool isMirrored = design_->isMirrored();
    const double from = isMirrored ? width - size_.width.toPx() : 0; // where it stands unshifted
    const double edge = isMirrored ? width - parted.stays : parted.stays;
    const QRectF before(0, 0, edge, height);
    const QRectF behind(edge, 0, width - edge, height);
    for (const bool isRest : {true, false}) {
        const double at = from + (!isRest ? 0 : isMirrored ? parted.by : -parted.by);
        const QRectF clip = isRest == isMirrored ? before : behind;
        PaintNeeds part = needs;
        part.left = clip.left() - at;
        part.right = clip.right() - at;
        painter.save();
        painter.setClipRect(clip, Qt::IntersectClip);
        painter.translate(at, 0);
        paint(painter, part);
        painter.restore();
    }
    painter.fillRect(QRectF(edge - 0.5, 0, 1, height), needs.colours.quiet);
}

/// In whole device px: dividers stay sharp, and what touches goes on touching.
QRectF ItemView::rectOf(std::size_t part, const PaintNeeds& needs) const {
    const DeviceBox box = inDevicePx(boxes_[part], needs.density);
    const auto px = [&needs](std::int64_t device) { return static_cast<double>(device) / needs.density; };
    return {QPointF(px(box.left), px(box.top)), QPointF(px(box.right), px(box.bottom))};
}

void ItemView::paint(QPainter& painter, const PaintNeeds& needs) const {
    for (std::size_t i = 0; i < boxes_.size(); ++i) {
        const PartBox& box = boxes_[i];
        if (!box.shown) {
            // What is left out takes all it holds with it.
            i = static_cast<std::size_t>(design_->parts()[i].subtreeEnd) - 1;
            continue;
        }
        const PlanPart& part = design_->parts()[i];
        const QRectF at = rectOf(i, needs);
        if (at.top() >= needs.bottom || at.bottom() <= needs.top || at.left() >= needs.right ||
            at.right() <= needs.left) {
            continue;
        }
        if (skeleton_) {
            paintSkeleton(painter, i, at, needs);
            continue;
        }
        paintGround(painter, i, at, needs);
        switch (part.type) {
        case PartType::Text:
        case PartType::Badge:
            paintText(painter, i, at, needs);
            break;
        case PartType::Scale:
            if (part.glyphs.empty()) {
                paintScale(painter, i, at, needs);
            } else {
                paintText(painter, i, at, needs);
            }
            break;
        case PartType::Meter:
            paintMeter(painter, i, at, needs);
            break;
        case PartType::Picture:
            paintPicture(painter, i, at, needs);
            break;
        case PartType::Line:
            paintLine(painter, part, at, needs);
            break;
        default:
            break;
        }
    }
}

/// A bar for each line of text, a field for each picture.
void ItemView::paintSkeleton(QPainter& painter, std::size_t part, const QRectF& at,
                             const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    QColor tone = needs.colours.quiet;
    tone.setAlphaF(0.16f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(tone);
    if (p.type == PartType::Line) {
        paintLine(painter, p, at, needs);
    } else if (p.type == PartType::Text && texts_[part]) {
        const TextBlock& block = *texts_[part];
        const bool fromRight = design_->isMirrored() || block.isRightToLeft();
        const double high =
            (at.height() - p.padding[0].toPx() - p.padding[2].toPx()) / std::max(block.lines(), 1);
        for (int line = 0; line < block.lines(); ++line) {
            const double width = std::min(block.lineWidth(line), at.width());
            const double x = fromRight                  ? at.right() - width
                             : p.align == Align::Center ? at.center().x() - width / 2
                                                        : at.left() + p.padding[3].toPx();
            painter.drawRoundedRect(
                QRectF(x, at.top() + p.padding[0].toPx() + line * high + high * 0.24, width, high * 0.56), 3,
                3);
        }
    } else if (p.type == PartType::Picture || p.type == PartType::Badge || p.type == PartType::Meter ||
               p.type == PartType::Scale) {
        const double radius = p.type == PartType::Picture ? p.radius.toPx() : std::min(at.height() / 2, 8.0);
        painter.drawRoundedRect(at, radius, radius);
    }
}

void ItemView::paintGround(QPainter& painter, std::size_t part, const QRectF& at,
                           const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    const Tone tone = content_.tones[part];
    const bool badge = p.type == PartType::Badge;
    const bool shows = !badge || content_.present[static_cast<std::size_t>(p.binding)] != 0;
    if (badge && p.ground.empty() && shows) {
        needs.shapes.ground(painter, at, p.radius.toPx(), needs.colours.groundOf(tone), needs.density);
    } else if (isBox(p.type) && tone != Tone::Neutral) {
        needs.shapes.ground(painter, at, p.radius.toPx(), needs.colours.groundOf(tone), needs.density);
        const double bar = tone == Tone::Bad       ? 4
                           : tone == Tone::Caution ? 3
                                                   : 2; // tones differ in more than colour
        painter.fillRect(
            QRectF(design_->isMirrored() ? at.right() - bar : at.left(), at.top(), bar, at.height()),
            needs.colours.inkOf(tone));
    } else if (!p.ground.empty() && shows) {
        needs.shapes.ground(painter, at, p.radius.toPx(), needs.colours.of(p.ground), needs.density);
    }
}

void ItemView::paintText(QPainter& painter, std::size_t part, const QRectF& at,
                         const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    const auto& block = texts_[part];
    if (!block || content_.present[static_cast<std::size_t>(p.binding)] == 0) {
        return; // it only keeps its place
    }
    const Tone tone = content_.tones[part];
    const bool toned = p.type == PartType::Badge || p.tones > 0 || tone != Tone::Neutral;
    const bool plainBadge = p.type == PartType::Badge && tone == Tone::Neutral;
    const QColor ink = plainBadge                       ? needs.colours.of(p.colour)
                       : toned && tone != Tone::Neutral ? needs.colours.inkOf(tone)
                                                        : needs.colours.of(p.colour);
    const bool mirrored = design_->isMirrored();
    const double start = p.padding[3].toPx();
    const double end = p.padding[1].toPx();
    const double left = mirrored ? end : start;
    const double width = at.width() - start - end;
    // Start is where reading begins: of the item, and of a text that is read the other way.
    const bool fromRight = mirrored || block->isRightToLeft();
    const Qt::AlignmentFlag side = p.align == Align::Center ? Qt::AlignHCenter
                                   : p.align == Align::End  ? (mirrored ? Qt::AlignLeft : Qt::AlignRight)
                                                            : (fromRight ? Qt::AlignRight : Qt::AlignLeft);
    painter.setPen(ink);
    block->paint(painter, at.topLeft() + QPointF(left, p.padding[0].toPx()), width, side);
    if (p.type == PartType::Badge && tone != Tone::Neutral && p.padding[3] > kToneMark) {
        const double x = start - kToneMark.toPx() / 2;
        paintToneMark(painter, tone, {mirrored ? at.right() - x : at.left() + x, at.center().y()}, ink);
    } else if (p.type == PartType::Text && (tone == Tone::Bad || tone == Tone::Caution)) {
        painter.setPen(QPen(ink, 1.2, tone == Tone::Bad ? Qt::SolidLine : Qt::DashLine));
        const double y = at.bottom() - p.padding[2].toPx() - 1;
        painter.drawLine(QPointF(at.left() + left, y), QPointF(at.left() + left + width, y));
    }
}

/// A shape for each tone: colours alone are not told apart by everyone.
void ItemView::paintToneMark(QPainter& painter, Tone tone, QPointF c, const QColor& ink) const {
    painter.setPen(Qt::NoPen);
    painter.setBrush(ink);
    switch (tone) {
    case Tone::Good:
        painter.drawEllipse(c, 2.6, 2.6);
        break;
    case Tone::Caution:
        painter.drawPolygon(QPolygonF({c + QPointF(0, -3.2), c + QPointF(3.2, 2.6), c + QPointF(-3.2, 2.6)}));
        break;
    case Tone::Bad:
        painter.drawPolygon(QPolygonF(
            {c + QPointF(0, -3.6), c + QPointF(3.6, 0), c + QPointF(0, 3.6), c + QPointF(-3.6, 0)}));
        break;
    default:
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(ink, 1.3));
        painter.drawEllipse(c, 2.3, 2.3);
        break;
    }
}

void ItemView::paintMeter(QPainter& painter, std::size_t part, const QRectF& at,
                          const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    const float share = content_.numbers[part];
    needs.shapes.ground(painter, at, p.radius.toPx(), needs.colours.faint, needs.density);
    if (share <= 0) {
        return;
    }
    const Tone tone = content_.tones[part];
    const QColor ink = tone == Tone::Neutral ? needs.colours.of(p.colour) : needs.colours.inkOf(tone);
    const double width = std::max(at.width() * static_cast<double>(share), std::min(at.width(), 2.0));
    const QRectF filled(design_->isMirrored() ? at.right() - width : at.left(), at.top(), width, at.height());
    painter.setPen(Qt::NoPen);
    painter.setBrush(ink);
    painter.drawRoundedRect(filled, p.radius.toPx(), p.radius.toPx());
    if (tone == Tone::Bad || tone == Tone::Caution) {
        painter.setBrush(
            QBrush(needs.colours.paper, tone == Tone::Bad ? Qt::BDiagPattern : Qt::Dense6Pattern));
        painter.drawRoundedRect(filled, p.radius.toPx(), p.radius.toPx());
    }
}

void ItemView::paintScale(QPainter& painter, std::size_t part, const QRectF& at,
                          const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    const Length size =
        Length::fromPx(design_->styles()[static_cast<std::size_t>(p.style)].size.toPx() * fonts_->textScale);
    const double mark = markSize(size).toPx();
    const double step = mark + markGap(size).toPx();
    const auto full = static_cast<int>(content_.numbers[part]);
    const Tone tone = content_.tones[part];
    const QColor ink = tone == Tone::Neutral ? needs.colours.of(p.colour) : needs.colours.inkOf(tone);
    for (int i = 0; i < p.steps; ++i) {
        const double x = p.padding[3].toPx() + i * step + mark / 2;
        const QPointF centre(design_->isMirrored() ? at.right() - x : at.left() + x,
                             at.top() + p.padding[0].toPx() + mark / 2);
        painter.setPen(i < full ? QPen(Qt::NoPen) : QPen(needs.colours.quiet, 1));
        painter.setBrush(i < full ? QBrush(ink) : QBrush(Qt::NoBrush));
        painter.drawEllipse(centre, mark / 2 - (i < full ? 0 : 0.5), mark / 2 - (i < full ? 0 : 0.5));
    }
}

void ItemView::paintLine(QPainter& painter, const PlanPart& part, const QRectF& at,
                         const PaintNeeds& needs) const {
    const QColor ink = needs.colours.of(part.colour);
    if (part.fade == Fade::None) {
        painter.fillRect(at, ink);
        return;
    }
    const bool upright = at.height() > at.width();
    QLinearGradient gradient(at.topLeft(), upright ? at.bottomLeft() : at.topRight());
    QColor gone = ink;
    gone.setAlpha(0);
    const bool atStart =
        part.fade == Fade::Both || (part.fade == Fade::Start) != (design_->isMirrored() && !upright);
    const bool atEnd =
        part.fade == Fade::Both || (part.fade == Fade::End) != (design_->isMirrored() && !upright);
    gradient.setColorAt(0, atStart ? gone : ink);
    gradient.setColorAt(0.5, ink);
    gradient.setColorAt(1, atEnd ? gone : ink);
    painter.fillRect(at, gradient);
}

void ItemView::paintPicture(QPainter& painter, std::size_t part, const QRectF& at,
                            const PaintNeeds& needs) const {
    const PlanPart& p = design_->parts()[part];
    if (content_.present[static_cast<std::size_t>(p.binding)] == 0) {
        return paintFallback(painter, p, at, p.fallback.none, false, needs);
    }
    const auto& entry = needs.pictures.find(wishOf(part, needs.density));
    if (entry.state == PictureState::Loading) {
        needs.shapes.ground(painter, at, p.radius.toPx(), needs.colours.of(p.placeholder), needs.density);
        return;
    }
    if (entry.state != PictureState::Ready) {
        const bool missing = entry.state == PictureState::Missing;
        return paintFallback(painter, p, at, missing ? p.fallback.missing : p.fallback.broken, true, needs);
    }
    const QSizeF shown = QSizeF(entry.image.size()) / needs.density;
    const QPointF corner = at.center() - QPointF(shown.width() / 2, shown.height() / 2);
    painter.drawImage(p.fit == Fit::Fit ? QRectF(corner, shown) : QRectF(at.topLeft(), shown), entry.image);
}

void ItemView::paintFallback(QPainter& painter, const PlanPart& part, const QRectF& at,
                             const std::string& says, bool crossed, const PaintNeeds& needs) const {
    needs.shapes.placeholder(painter, at, part.radius.toPx(), needs.colours.quiet, crossed && says.empty(),
                             needs.density);
    if (says.empty()) {
        return;
    }
    QFont font = fonts_->faces[static_cast<std::size_t>(part.style)].font;
    const QString text = QString::fromStdString(says);
    const QFontMetricsF metrics(font);
    const double fits = (at.width() - 4) / std::max(metrics.horizontalAdvance(text), 1.0);
    if (fits < 1) {
        font.setPixelSize(std::max(7, static_cast<int>(font.pixelSize() * fits)));
    }
    painter.setFont(font);
    painter.setPen(needs.colours.quiet);
    painter.drawText(at, static_cast<int>(Qt::AlignCenter) | Qt::TextWordWrap, text);
}

} // namespace scorrere::render
