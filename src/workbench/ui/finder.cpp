// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/finder.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QPointer>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

namespace {

constexpr int kPlace = Qt::UserRole; ///< of an offer among those shown

bool hasAll(const Offer& offer, const QStringList& words) {
    const QString all = offer.group + QLatin1Char(' ') + offer.text + QLatin1Char(' ') + offer.keys;
    return std::ranges::all_of(words,
                               [&](const QString& word) { return all.contains(word, Qt::CaseInsensitive); });
}

} // namespace

Finder::Finder(Look& look, QWidget* parent)
    : QFrame(parent, Qt::Popup), look_(look), line_(new QLineEdit(this)), list_(new QTreeWidget(this)),
      none_(new QLabel(tr("Nothing is called that."), this)) {
    setObjectName(QStringLiteral("finder"));
    setAccessibleName(tr("Everything that can be done"));
    line_->setObjectName(QStringLiteral("finderLine"));
    line_->setPlaceholderText(tr("find an action, a field, a part, a setting; or a record's number"));
    line_->setAccessibleName(tr("What to find"));
    list_->setObjectName(QStringLiteral("finderList"));
    list_->setColumnCount(2);
    list_->setHeaderHidden(true);
    list_->setRootIsDecorated(false);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->header()->setStretchLastSection(false);
    list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    list_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 10, 10, 10);
    column->setSpacing(6);
    column->addWidget(line_);
    column->addWidget(none_);
    column->addWidget(list_, 1);
    line_->installEventFilter(this);
    connect(line_, &QLineEdit::textChanged, this, &Finder::fill);
    connect(line_, &QLineEdit::returnPressed, this, [this] { run(list_->currentItem()); });
    connect(list_, &QTreeWidget::itemClicked, this, &Finder::run);
    connect(&look_, &Look::changed, this, &Finder::restyle);
    restyle();
}

void Finder::openBelow(const QWidget& anchor, Offers offers) {
    offers_ = std::move(offers);
    line_->clear();
    fill();
    const QWidget& window = *anchor.window();
    const QPoint below = anchor.mapTo(&window, QPoint(0, anchor.height() + 2));
    const int wide = std::min(static_cast<int>(look_.scaled(470)), window.width() - 16);
    const int high = std::min(static_cast<int>(look_.scaled(640)), window.height() - below.y() - 8);
    resize(wide, high);
    move(window.mapToGlobal(
        QPoint(std::clamp(below.x() + anchor.width() - wide, 8, window.width() - wide - 8), below.y())));
    show();
    line_->setFocus();
}

void Finder::fill() {
    const QString typed = line_->text().simplified();
    const QStringList words = typed.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    shown_ = offers_ ? offers_(typed) : std::vector<Offer>();
    std::erase_if(shown_, [&](const Offer& offer) {
        return words.isEmpty() ? offer.isOnlyFound : !hasAll(offer, words);
    });
    std::ranges::stable_sort(shown_, {}, &Offer::isOnlyFound); // actions first
    const std::size_t more = shown_.size() > kMostLines ? shown_.size() - kMostLines : 0;
    shown_.resize(shown_.size() - more);
    list_->clear();
    const auto addHead = [this](const QString& text) {
        auto* head = new QTreeWidgetItem(list_, {text});
        head->setFlags(Qt::NoItemFlags);
        head->setFirstColumnSpanned(true);
        head->setFont(0, look_.font(11, 650));
        head->setForeground(0, look_.quiet);
    };
    QTreeWidgetItem* first = nullptr;
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        const Offer& offer = shown_[i];
        if (i == 0 || shown_[i - 1].group != offer.group) {
            addHead(offer.group);
        }
        auto* item = new QTreeWidgetItem(list_, {offer.text, offer.keys});
        item->setData(0, kPlace, static_cast<int>(i));
        item->setData(0, Qt::AccessibleTextRole,
                      offer.keys.isEmpty() ? offer.text : tr("%1, %2").arg(offer.text, offer.keys));
        item->setToolTip(0, offer.text);
        item->setForeground(1, look_.quiet);
        first = first == nullptr ? item : first;
    }
    if (more > 0) {
        addHead(tr("and %1 more").arg(more));
    }
    none_->setVisible(shown_.empty());
    list_->setCurrentItem(first);
    list_->scrollToTop();
}

/// To the next line that can be chosen, over the heads of the groups.
void Finder::step(int by) {
    const int now = list_->indexOfTopLevelItem(list_->currentItem());
    for (int i = now + by; i >= 0 && i < list_->topLevelItemCount(); i += by) {
        if (list_->topLevelItem(i)->flags() & Qt::ItemIsSelectable) {
            list_->setCurrentItem(list_->topLevelItem(i));
            return;
        }
    }
}

void Finder::run(const QTreeWidgetItem* item) {
    const QVariant place = item == nullptr ? QVariant() : item->data(0, kPlace);
    if (!place.isValid()) {
        return;
    }
    const std::function<void()> does = shown_[static_cast<std::size_t>(place.toInt())].does;
    close();
    does();
}

bool Finder::eventFilter(QObject* watched, QEvent* event) {
    if (watched != line_ || event->type() != QEvent::KeyPress) {
        return QFrame::eventFilter(watched, event);
    }
    switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Down:
        step(1);
        return true;
    case Qt::Key_Up:
        step(-1);
        return true;
    case Qt::Key_PageDown:
    case Qt::Key_PageUp:
        for (int i = 0; i < 10; ++i) {
            step(static_cast<QKeyEvent*>(event)->key() == Qt::Key_PageDown ? 1 : -1);
        }
        return true;
    case Qt::Key_Escape:
    case Qt::Key_F10:
        close();
        return true;
    default:
        return false;
    }
}

void Finder::restyle() {
    line_->setFont(look_.font(14));
    list_->setFont(look_.font(13));
    none_->setFont(look_.font(13));
    setStyleSheet(QStringLiteral("#finder { background: %1; border: 1px solid %2; }"
                                 "#finder QLabel { color: %3; }"
                                 "#finderLine { background: %4; color: %3; border: 1px solid %5; "
                                 "border-radius: 5px; padding: 5px 8px; }"
                                 "#finderList { background: %1; color: %3; outline: none; }"
                                 "#finderList::item { padding: 3px 6px; border: none; }"
                                 "#finderList::item:selected { background: %5; color: %6; }"
                                 "QScrollBar:vertical { background: transparent; width: 11px; margin: 0; }"
                                 "QScrollBar::handle:vertical { background: %2; border-radius: 4px; "
                                 "min-height: 24px; margin: 1px 2px; }"
                                 "QScrollBar::add-line, QScrollBar::sub-line { height: 0; }"
                                 "QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }")
                      .arg(look_.card.name(), look_.edge.name(), look_.ink.name(), look_.ground.name(),
                           look_.accent.name(), look_.onAccent.name()));
}

} // namespace scorrere::workbench

#include "moc_finder.cpp"
