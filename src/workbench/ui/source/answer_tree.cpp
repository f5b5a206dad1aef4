// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/answer_tree.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>

namespace scorrere::workbench {

namespace {

using Type = JsonOutline::Type;
constexpr double kIndent = 15;
constexpr qsizetype kShownValue = 120;

bool holds(Type type) {
    return type == Type::Object || type == Type::Array;
}

} // namespace

AnswerTree::AnswerTree(Look& look, QWidget* parent) : QAbstractScrollArea(parent), look_(look) {
    setObjectName(QStringLiteral("answerTree"));
    setAccessibleName(tr("The answer as a tree"));
    setFocusPolicy(Qt::StrongFocus);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(&look_, &Look::changed, this, &AnswerTree::showAgain);
}

void AnswerTree::setAnswer(std::shared_ptr<const Answer> answer) {
    answer_ = std::move(answer);
    const std::size_t size = answer_ ? answer_->tree.nodes.size() : 0;
    open_.assign(size, 0);
    selected_ = -1;
    if (size > 0) {
        open_[0] = 1;
        const std::int32_t shown = answer_->items < 0 ? 0 : answer_->items;
        for (std::int32_t up = shown; up >= 0; up = node(up).parent) {
            open_[static_cast<std::size_t>(up)] = 1;
        }
        // The first item lies open: its members are the fields.
        if (node(shown).children > 0 && shown + 1 < static_cast<std::int32_t>(size)) {
            open_[static_cast<std::size_t>(shown) + 1] = 1;
        }
    }
    verticalScrollBar()->setValue(0);
    showAgain();
}

int AnswerTree::rowHeight() const {
    return static_cast<int>(look_.scaled(21));
}

void AnswerTree::showAgain() {
    rows_.clear();
    const std::size_t size = answer_ ? answer_->tree.nodes.size() : 0;
    for (std::size_t i = 0; i < size;) {
        rows_.push_back(static_cast<std::int32_t>(i));
        i = open_[i] != 0 ? i + 1 : static_cast<std::size_t>(node(static_cast<int>(i)).subtreeEnd);
    }
    const int page = viewport()->height() / std::max(rowHeight(), 1);
    verticalScrollBar()->setPageStep(page);
    verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(rows_.size()) - page));
    viewport()->update();
    Q_EMIT scrolled();
}

void AnswerTree::resizeEvent(QResizeEvent*) {
    showAgain();
}

void AnswerTree::scrollContentsBy(int, int) {
    viewport()->update();
    Q_EMIT scrolled();
}

int AnswerTree::rowAt(int node) const {
    const auto found = std::ranges::lower_bound(rows_, node);
    return found != rows_.end() && *found == node ? static_cast<int>(found - rows_.begin()) : -1;
}

bool AnswerTree::isShown(int node) const {
    return rowAt(node) >= 0;
}

bool AnswerTree::rowOf(int wanted, double& y, bool& isItself) const {
    int at = wanted;
    while (at >= 0 && rowAt(at) < 0) {
        at = node(at).parent;
    }
    if (at < 0) {
        return false;
    }
    isItself = at == wanted;
    const int row = rowAt(at) - verticalScrollBar()->value();
    y = (row + 0.5) * rowHeight() + viewport()->y();
    return row >= 0 && y < height();
}

void AnswerTree::select(int wanted) {
    if (wanted == selected_ || !answer_) {
        return;
    }
    selected_ = wanted;
    for (std::int32_t up = wanted < 0 ? -1 : node(wanted).parent; up >= 0; up = node(up).parent) {
        open_[static_cast<std::size_t>(up)] = 1;
    }
    showAgain();
    if (const int row = rowAt(wanted); row >= 0) {
        const int top = verticalScrollBar()->value();
        const int page = std::max(verticalScrollBar()->pageStep(), 1);
        verticalScrollBar()->setValue(std::clamp(top, row - page + 1, row));
    }
    Q_EMIT selectionChanged(wanted);
}

void AnswerTree::fold(int at, bool open) {
    if (holds(node(at).type) && (open_[static_cast<std::size_t>(at)] != 0) != open) {
        open_[static_cast<std::size_t>(at)] = open ? 1 : 0;
        showAgain();
    }
}

std::vector<AnswerTree::Offer> AnswerTree::offersFor(int at) const {
    std::vector<Offer> offers;
    if (at < 0 || answer_->treeIsRecords) {
        if (at > 0 && node(at).depth == 2) {
            offers.push_back(Offer::Key);
        }
        return offers;
    }
    if (node(at).type == Type::Array && at != answer_->items) {
        offers.push_back(Offer::Items);
    }
    bool inItem = false;
    for (std::int32_t up = node(at).parent; up >= 0 && answer_->items >= 0; up = node(up).parent) {
        inItem = inItem || node(up).parent == answer_->items;
    }
    if (inItem) {
        const bool isField = std::ranges::find(answer_->fields, at) != answer_->fields.end();
        const bool isDirect = node(node(at).parent).parent == answer_->items;
        if (isField || isDirect) {
            offers.push_back(Offer::Key);
        } else {
            offers.push_back(Offer::Column);
        }
    }
    return offers;
}

void AnswerTree::act(Offer offer) {
    const auto offers = offersFor(selected_);
    if (std::ranges::find(offers, offer) == offers.end()) {
        return;
    }
    switch (offer) {
    case Offer::Items:
        Q_EMIT itemsWanted(QString::fromStdString(
            answer_->tree.pathOf(static_cast<std::size_t>(selected_), answer_->treeText) + "[*]"));
        break;
    case Offer::Key:
        Q_EMIT keyWanted(selected_);
        break;
    case Offer::Column:
        Q_EMIT columnWanted(selected_);
        break;
    }
}

QString AnswerTree::valueText(int at) const {
    const JsonOutline::Node& known = node(at);
    if (known.type == Type::Object) {
        return tr("{ %1 }").arg(known.children);
    }
    if (known.type == Type::Array) {
        return tr("[ %1 ]").arg(known.children);
    }
    const std::string_view raw =
        std::string_view(answer_->treeText).substr(known.start, known.end - known.start);
    QString text =
        QString::fromUtf8(raw.data(), static_cast<qsizetype>(std::min<std::size_t>(raw.size(), 600)));
    if (known.type == Type::String) {
        text = QString::fromStdString(unescapedJson(raw.substr(0, 600)));
        if (raw.size() > 600 && text.startsWith(QLatin1Char('"'))) {
            text.remove(0, 1);
        }
    }
    text.replace(QLatin1Char('\n'), QStringLiteral(" ↵ "));
    return text.size() > kShownValue ? text.left(kShownValue) + QStringLiteral("…") : text;
}

QString AnswerTree::rowText(int at) const {
    const JsonOutline::Node& known = node(at);
    const QString name = known.keyEnd > known.keyStart
                             ? QString::fromStdString(JsonOutline::nameOf(known, answer_->treeText))
                         : known.parent < 0 ? QStringLiteral("$")
                                            : QString::number(known.place);
    const auto edit = edits_.find(at);
    return name + QStringLiteral(" ") + valueText(at) +
           (edit == edits_.end() ? QString() : tr(", edited: %1").arg(*edit));
}

void AnswerTree::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    painter.fillRect(viewport()->rect(), look_.card);
    pills_.clear();
    if (rows_.empty()) {
        painter.setPen(look_.quiet);
        painter.setFont(look_.font(13));
        painter.drawText(viewport()->rect().adjusted(16, 12, -16, -12), Qt::AlignTop | Qt::TextWordWrap,
                         !answer_ ? tr("Nothing was asked yet.")
                                  : tr("There is no tree in this answer. Its text may tell why: see Text."));
        return;
    }
    painter.setRenderHint(QPainter::Antialiasing);
    const int first = verticalScrollBar()->value();
    for (int row = first; row < static_cast<int>(rows_.size()); ++row) {
        const double y = (row - first) * rowHeight();
        if (y > viewport()->height()) {
            break;
        }
        paintRow(painter, row, y);
    }
    if (hasFocus()) {
        paintFocus(painter, viewport()->rect(), look_);
    }
}

void AnswerTree::paintRow(QPainter& painter, int row, double y) {
    const int at = rows_[static_cast<std::size_t>(row)];
    const JsonOutline::Node& known = node(at);
    const double height = rowHeight();
    const QRectF whole(0, y, viewport()->width(), height);
    const bool isItems = at == answer_->items;
    const bool inItems = answer_->items >= 0 && at > answer_->items && at < node(answer_->items).subtreeEnd;
    const bool isField = std::ranges::find(answer_->fields, at) != answer_->fields.end();
    if (at == selected_) {
        QColor tint = look_.accent;
        tint.setAlphaF(hasFocus() ? 0.16f : 0.09f);
        painter.fillRect(whole, tint);
    }
    if (isItems || inItems) { // the brace of what the items are taken from
        painter.fillRect(QRectF(0, y, 3, height), look_.loaded);
    }
    double x = look_.scaled(12) + known.depth * look_.scaled(kIndent);
    if (holds(known.type) && known.children > 0) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(look_.quiet);
        const double c = look_.scaled(3.4);
        const QPointF mid(x, y + height / 2);
        const bool open = open_[static_cast<std::size_t>(at)] != 0;
        painter.drawPolygon(open ? QPolygonF({mid + QPointF(-c, -c * 0.6), mid + QPointF(c, -c * 0.6),
                                              mid + QPointF(0, c * 0.8)})
                                 : QPolygonF({mid + QPointF(-c * 0.6, -c), mid + QPointF(c * 0.8, 0),
                                              mid + QPointF(-c * 0.6, c)}));
    }
    x += look_.scaled(9);
    // The pills of the selected row come first: the value gives way to them.
    double right = viewport()->width() - look_.scaled(8);
    if (at == selected_) {
        painter.setFont(look_.font(11.5, 600));
        for (const Offer offer : offersFor(at)) {
            const QString full = offer == Offer::Items ? tr("make these the items  I")
                                 : offer == Offer::Key ? tr("make it the key  K")
                                                       : tr("make it a column  C");
            const QString brief = offer == Offer::Items ? tr("items  I")
                                  : offer == Offer::Key ? tr("key  K")
                                                        : tr("column  C");
            const bool roomy = right - x - painter.fontMetrics().horizontalAdvance(full) > look_.scaled(150);
            const QString& text = roomy ? full : brief;
            const double wide = painter.fontMetrics().horizontalAdvance(text) + look_.scaled(14);
            const QRectF pill(right - wide, y + 1.5, wide, height - 3);
            painter.setPen(QPen(look_.accent, 1));
            painter.setBrush(look_.card);
            painter.drawRoundedRect(pill, pill.height() / 2, pill.height() / 2);
            painter.setPen(look_.accent);
            painter.drawText(pill, Qt::AlignCenter, text);
            pills_.push_back({pill, offer});
            right -= wide + look_.scaled(6);
        }
    }
    const bool named = known.keyEnd > known.keyStart;
    const QString name = named ? QString::fromStdString(JsonOutline::nameOf(known, answer_->treeText))
                         : known.parent < 0 ? QStringLiteral("$")
                                            : QString::number(known.place);
    painter.setFont(look_.font(13, named ? 600 : 400));
    painter.setPen(isField ? look_.ink : named ? look_.ink : look_.quiet);
    const double nameWidth = painter.fontMetrics().horizontalAdvance(name);
    painter.drawText(QRectF(x, y, right - x, height), Qt::AlignVCenter | Qt::AlignLeft, name);
    x += nameWidth + look_.scaled(9);
    if (const auto edit = edits_.find(at); edit != edits_.end()) { // first, and the source's behind it
        painter.setFont(look_.font(13, 700));
        painter.setPen(look_.accent);
        const QString say = painter.fontMetrics().elidedText(
            *edit, Qt::ElideRight, static_cast<int>(std::max(right - x, 0.0) * 0.6));
        painter.drawText(QRectF(x, y, right - x, height), Qt::AlignVCenter | Qt::AlignLeft, say);
        x += painter.fontMetrics().horizontalAdvance(say) + look_.scaled(9);
    }
    painter.setFont(look_.font(13));
    painter.setPen(known.type == Type::String   ? look_.loaded
                   : known.type == Type::Number ? look_.accent
                                                : look_.quiet);
    if (right - x > look_.scaled(12)) {
        painter.drawText(
            QRectF(x, y, right - x, height), Qt::AlignVCenter | Qt::AlignLeft,
            painter.fontMetrics().elidedText(valueText(at) + (isItems ? tr("  the items") : QString()),
                                             Qt::ElideRight, static_cast<int>(right - x)));
    }
}

void AnswerTree::keyPressEvent(QKeyEvent* event) {
    if (rows_.empty()) {
        return QAbstractScrollArea::keyPressEvent(event);
    }
    const int row = std::max(rowAt(selected_), 0);
    const int page = std::max(verticalScrollBar()->pageStep() - 1, 1);
    const auto go = [&](int to) {
        select(rows_[static_cast<std::size_t>(std::clamp(to, 0, static_cast<int>(rows_.size()) - 1))]);
    };
    switch (event->key()) {
    case Qt::Key_Up:
        return go(selected_ < 0 ? 0 : row - 1);
    case Qt::Key_Down:
        return go(selected_ < 0 ? 0 : row + 1);
    case Qt::Key_PageUp:
        return go(row - page);
    case Qt::Key_PageDown:
        return go(row + page);
    case Qt::Key_Home:
        return go(0);
    case Qt::Key_End:
        return go(static_cast<int>(rows_.size()) - 1);
    case Qt::Key_Right:
        return selected_ >= 0 ? fold(selected_, true) : go(0);
    case Qt::Key_Left:
        if (selected_ >= 0 && open_[static_cast<std::size_t>(selected_)] != 0) {
            return fold(selected_, false);
        }
        return selected_ > 0 ? select(node(selected_).parent) : void();
    case Qt::Key_E:
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return selected_ >= 0 ? Q_EMIT editWanted(selected_) : void();
    case Qt::Key_I:
        return act(Offer::Items);
    case Qt::Key_K:
        return act(Offer::Key);
    case Qt::Key_C:
        return event->modifiers() == Qt::NoModifier ? act(Offer::Column)
                                                    : QAbstractScrollArea::keyPressEvent(event);
    default:
        return QAbstractScrollArea::keyPressEvent(event);
    }
}

void AnswerTree::mousePressEvent(QMouseEvent* event) {
    for (const Pill& pill : pills_) {
        if (pill.rect.contains(event->position())) {
            return act(pill.offer);
        }
    }
    const int row = verticalScrollBar()->value() + static_cast<int>(event->position().y()) / rowHeight();
    if (row < 0 || row >= static_cast<int>(rows_.size())) {
        return;
    }
    const int at = rows_[static_cast<std::size_t>(row)];
    const double marker = look_.scaled(12) + node(at).depth * look_.scaled(kIndent);
    if (event->position().x() < marker + look_.scaled(9) &&
        event->position().x() > marker - look_.scaled(10)) {
        fold(at, open_[static_cast<std::size_t>(at)] == 0);
    }
    select(at);
}

void AnswerTree::mouseDoubleClickEvent(QMouseEvent* event) {
    const int row = verticalScrollBar()->value() + static_cast<int>(event->position().y()) / rowHeight();
    if (row >= 0 && row < static_cast<int>(rows_.size())) {
        const int at = rows_[static_cast<std::size_t>(row)];
        if (holds(node(at).type) && node(at).children > 0) {
            fold(at, open_[static_cast<std::size_t>(at)] == 0);
        } else {
            Q_EMIT editWanted(at);
        }
    }
}

void AnswerTree::setEdits(const QHash<int, QString>& edits) {
    if (edits != edits_) {
        edits_ = edits;
        viewport()->update();
    }
}

} // namespace scorrere::workbench

#include "moc_answer_tree.cpp"
