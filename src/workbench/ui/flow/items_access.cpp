// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/flow/items_access.h"

#include "workbench/ui/flow/cutaway.h"
#include "workbench/ui/look/access_cell.h"

#include <algorithm>
#include <map>

namespace scorrere::workbench {

namespace {

class ItemsAccess;

/// An item view, as long as it carries what it carries.
class ItemAccess final : public AccessCell, public QAccessibleActionInterface {
public:
    ItemAccess(ItemsAccess& items, ViewId view, std::uint32_t turn);
    bool isValid() const override { return place() >= 0; }
    QString text(QAccessible::Text which) const override;
    QRect rect() const override;
    QAccessible::State state() const override;
    void* interface_cast(QAccessible::InterfaceType type) override {
        return type == QAccessible::ActionInterface ? static_cast<QAccessibleActionInterface*>(this)
                                                    : AccessCell::interface_cast(type);
    }
    bool isSelected() const override;
    int columnIndex() const override { return 0; }
    int rowIndex() const override { return static_cast<int>(place()); }
    QStringList actionNames() const override;
    QString localizedActionName(const QString& name) const override;
    void doAction(const QString& name) override;
    QStringList keyBindingsForAction(const QString&) const override { return {}; }

    ViewId view() const { return view_; }
    std::uint32_t turn() const { return turn_; }

private:
    std::optional<render::HandItem> item() const;
    /// Among all records; -1: it carries another now.
    std::int64_t place() const;

    ItemsAccess& items_;
    ViewId view_;
    std::uint32_t turn_;
};

class ItemsAccess final : public AccessTable {
public:
    explicit ItemsAccess(Cutaway& cutaway) : AccessTable(&cutaway), cutaway_(cutaway) {}
    ~ItemsAccess() override {
        for (const auto& [view, known] : items_) {
            QAccessible::deleteAccessibleInterface(known.id);
        }
    }
    Cutaway& cutaway() const { return cutaway_; }
    render::LiveCollection* live() const { return cutaway_.collection(); }

    QString text(QAccessible::Text which) const override {
        return which == QAccessible::Description && live() != nullptr
                   ? Cutaway::tr("%1 items, %2 in view").arg(grouped(rowCount())).arg(showing().size())
                   : QAccessibleWidget::text(which);
    }
    int childCount() const override { return static_cast<int>(alive().size()); }
    QAccessibleInterface* child(int index) const override {
        const std::vector<ViewId> views = alive();
        return index < 0 || index >= static_cast<int>(views.size())
                   ? nullptr
                   : of(views[static_cast<std::size_t>(index)]);
    }
    int indexOfChild(const QAccessibleInterface* child) const override {
        const auto* item = dynamic_cast<const ItemAccess*>(child);
        const std::vector<ViewId> views = alive();
        const auto found = item == nullptr ? views.end() : std::ranges::find(views, item->view());
        return found == views.end() ? -1 : static_cast<int>(found - views.begin());
    }
    QAccessibleInterface* childAt(int x, int y) const override {
        const QPointF at = cutaway_.mapFromGlobal(QPoint(x, y));
        const auto item = live() == nullptr ? std::nullopt : live()->hands().itemAt(cutaway_.inWindow(at));
        return item && item->isRecord ? of(item->view) : nullptr;
    }
    QAccessibleInterface* focusChild() const override {
        const auto item = live() == nullptr ? std::nullopt : live()->hands().focused();
        return item ? cellAt(static_cast<int>(item->place + live()->leaf().first), 0) : nullptr;
    }
    QAccessibleInterface* cellAt(int row, int column) const override {
        if (live() == nullptr || column != 0) {
            return nullptr;
        }
        for (const ViewId view : alive()) {
            const std::int64_t position = live()->run().recycler().view(view).position;
            if (live()->run().arrangement().slotAt(position).place + live()->leaf().first == row) {
                return of(view);
            }
        }
        return nullptr; // no view carries it
    }
    QString columnDescription(int) const override { return Cutaway::tr("item"); }
    QString rowDescription(int row) const override {
        QAccessibleInterface* cell = cellAt(row, 0);
        return cell == nullptr ? QString() : cell->text(QAccessible::Name);
    }
    int columnCount() const override { return 1; }
    int rowCount() const override { return live() == nullptr ? 0 : static_cast<int>(live()->recordCount()); }
    int selectedCellCount() const override { return selectedRowCount(); }
    int selectedRowCount() const override {
        return live() == nullptr ? 0 : static_cast<int>(live()->hands().selectedCount());
    }
    /// Those that have a view.
    QList<QAccessibleInterface*> selectedCells() const override {
        QList<QAccessibleInterface*> cells;
        for (const ViewId view : alive()) {
            QAccessibleInterface* cell = of(view);
            if (cell->state().selected) {
                cells << cell;
            }
        }
        return cells;
    }
    QList<int> selectedRows() const override {
        QList<int> rows;
        for (QAccessibleInterface* cell : selectedCells()) {
            rows << cell->tableCellInterface()->rowIndex();
        }
        return rows;
    }
    bool isRowSelected(int row) const override {
        QAccessibleInterface* cell = cellAt(row, 0);
        return cell != nullptr && cell->state().selected;
    }
    bool selectRow(int row) override { return turnRow(row, true); }
    bool unselectRow(int row) override { return turnRow(row, false); }

    QAccessibleInterface* of(ViewId view) const {
        const std::uint32_t turn = live()->run().recycler().view(view).turn;
        Known& known = items_[view.index];
        if (known.id != 0 && known.turn != turn) { // it carries another now
            QAccessible::deleteAccessibleInterface(std::exchange(known.id, 0));
        }
        if (known.id == 0) {
            known = {turn,
                     QAccessible::registerAccessibleInterface(new ItemAccess(
                         const_cast<ItemsAccess&>(*this), view, turn))}; // NOLINT: the toolkit's are const
        }
        return QAccessible::accessibleInterface(known.id);
    }
    /// Views that carry a record, in the order of these.
    std::vector<ViewId> alive() const {
        return viewsThat([](const Placement&) { return true; });
    }
    std::vector<ViewId> showing() const {
        return viewsThat([](const Placement& placement) { return placement.showing; });
    }

private:
    template <typename Wanted>
    std::vector<ViewId> viewsThat(Wanted isWanted) const {
        std::vector<ViewId> views;
        if (live() == nullptr) {
            return views;
        }
        const Run& run = live()->run();
        for (const Placement& placement : run.placements()) {
            const bool isNow = run.recycler().view(placement.view).position == placement.position;
            if (isNow && run.arrangement().slotAt(placement.position).role == Role::Record &&
                isWanted(placement)) {
                views.push_back(placement.view);
            }
        }
        return views;
    }
    bool turnRow(int row, bool is) {
        if (live() == nullptr || cellAt(row, 0) == nullptr) {
            return false;
        }
        const render::HandItem item =
            live()->hands().itemOf(live()->run().arrangement().positionOf(row - live()->leaf().first));
        if (live()->hands().selection().has(item.selectable()) != is) {
            live()->hands().selection().turn(item.selectable());
            live()->hands().selectionDone();
        }
        return live()->hands().selection().has(item.selectable()) == is;
    }

    struct Known {
        std::uint32_t turn = 0;
        QAccessible::Id id = 0;
    };
    Cutaway& cutaway_;
    mutable std::map<int, Known> items_; ///< by view
};

ItemAccess::ItemAccess(ItemsAccess& items, ViewId view, std::uint32_t turn)
    : AccessCell(items), items_(items), view_(view), turn_(turn) {}

std::int64_t ItemAccess::place() const {
    render::LiveCollection* live = items_.live();
    if (!items_.isValid() || live == nullptr ||
        view_.index >= static_cast<int>(live->run().recycler().views().size())) {
        return -1;
    }
    const Recycler::View& view = live->run().recycler().view(view_);
    if (view.turn != turn_ || view.position < 0 || view.position >= live->run().arrangement().size()) {
        return -1;
    }
    const Slot slot = live->run().arrangement().slotAt(view.position);
    return slot.role == Role::Record ? slot.place + live->leaf().first : -1;
}

std::optional<render::HandItem> ItemAccess::item() const {
    return place() < 0 ? std::nullopt
                       : std::optional(items_.live()->hands().itemOf(
                             items_.live()->run().recycler().view(view_).position));
}

QString ItemAccess::text(QAccessible::Text which) const {
    if (!isValid()) {
        return {};
    }
    const render::ItemView& view = items_.live()->view(view_);
    if (which == QAccessible::Name) {
        return view.isSkeleton() ? Cutaway::tr("not here yet") : itemInWords(view);
    }
    return which == QAccessible::Description
               ? Cutaway::tr("%1 of %2").arg(grouped(place() + 1), grouped(items_.rowCount()))
               : QString();
}

QRect ItemAccess::rect() const {
    if (!isValid()) {
        return {};
    }
    const auto& placements = items_.live()->run().placements();
    const auto stands = std::ranges::find(placements, view_, &Placement::view);
    if (stands == placements.end() || !stands->showing) {
        return {};
    }
    const QRectF at = items_.live()->axis().onScreen(stands->drawnBox());
    const double k = items_.cutaway().scale();
    const QPointF corner = items_.cutaway().windowRect().topLeft() + at.topLeft() * k;
    return {items_.cutaway().mapToGlobal(corner.toPoint()), (at.size() * k).toSize()};
}

bool ItemAccess::isSelected() const {
    const auto known = item();
    return known && items_.live()->hands().selection().has(known->selectable());
}

QAccessible::State ItemAccess::state() const {
    QAccessible::State state;
    const auto known = item();
    if (!known) {
        state.invalid = true;
        return state;
    }
    const ItemState is = items_.live()->hands().stateOf(*known);
    state.focusable = true;
    state.focused = is.has(ItemFlag::Focused);
    state.selectable = items_.live()->hands().spec().select != SelectMode::None;
    state.multiSelectable = items_.live()->hands().spec().select == SelectMode::Many;
    state.selected = is.has(ItemFlag::Selected);
    state.pressed = is.has(ItemFlag::Pressed);
    state.offscreen = rect().isEmpty();
    state.readOnly = true;
    return state;
}

QStringList ItemAccess::actionNames() const {
    const auto known = item();
    if (!known) {
        return {};
    }
    const HandsSpec& hands = items_.live()->hands().spec();
    QStringList names{setFocusAction()};
    for (const std::vector<std::string>& some :
         {std::vector<std::string>{hands.tap, hands.doubleTap, hands.press}, hands.atStart, hands.atEnd}) {
        for (const std::string& name : some) {
            if (const QString one = QString::fromStdString(name); !one.isEmpty() && !names.contains(one)) {
                names << one;
            }
        }
    }
    return names;
}

QString ItemAccess::localizedActionName(const QString& name) const {
    return name == setFocusAction()
               ? QAccessibleActionInterface::localizedActionName(name)
               : QString::fromStdString(titleOf(items_.live()->hands().actions(), name.toStdString()));
}

void ItemAccess::doAction(const QString& name) {
    const auto known = item();
    if (!known) {
        return;
    }
    if (name == setFocusAction()) {
        items_.cutaway().setFocus();
        items_.live()->hands().focusOn(known->place, items_.cutaway().nowUs());
    } else {
        Q_EMIT items_.live()->hands().acted(name, *known);
    }
}

QAccessibleInterface* makeItems(const QString&, QObject* object) {
    auto* cutaway = qobject_cast<Cutaway*>(object);
    return cutaway != nullptr ? new ItemsAccess(*cutaway) : nullptr;
}

} // namespace

QString itemInWords(const render::ItemView& view) {
    const ItemContent& content = view.content();
    const std::vector<PlanPart>& parts = view.design().parts();
    QStringList words;
    for (std::size_t i = 0; i < parts.size() && !content.present.empty(); ++i) {
        const PlanPart& part = parts[i];
        if (!view.boxes()[i].shown || part.tap == "lift") { // a handle says nothing of the record
            continue;
        }
        const int said = part.label >= 0 ? part.label : part.isText() ? part.binding : -1;
        if (said >= 0 && content.present[static_cast<std::size_t>(said)] != 0) {
            words << QString::fromStdString(content.values[static_cast<std::size_t>(said)]);
        } else if (part.type == PartType::Scale && content.numbers[i] >= 0) {
            words << Cutaway::tr("%1 of %2").arg(std::lround(content.numbers[i])).arg(part.steps);
        } else if (part.type == PartType::Meter && content.numbers[i] >= 0) {
            words << QStringLiteral("%1%").arg(std::lround(content.numbers[i] * 100));
        }
    }
    return words.join(QStringLiteral(", "));
}

void exposeItems() {
    static const bool once = [] {
        QAccessible::installFactory(makeItems);
        return true;
    }();
    Q_UNUSED(once)
}

void tellFocus(Cutaway& cutaway) {
    auto* items = QAccessible::isActive() ? QAccessible::queryAccessibleInterface(&cutaway) : nullptr;
    if (items == nullptr) {
        return;
    }
    QAccessibleInterface* focused = items->focusChild();
    QAccessibleEvent event(focused != nullptr ? focused : items, QAccessible::Focus);
    QAccessible::updateAccessibility(&event);
}

void tellSelection(Cutaway& cutaway) {
    if (QAccessible::isActive()) {
        QAccessibleEvent event(&cutaway, QAccessible::SelectionWithin);
        QAccessible::updateAccessibility(&event);
    }
}

void tellRecords(Cutaway& cutaway) {
    if (QAccessible::isActive()) {
        QAccessibleTableModelChangeEvent event(&cutaway, QAccessibleTableModelChangeEvent::ModelReset);
        QAccessible::updateAccessibility(&event);
    }
}

void tellRecordsCame(Cutaway& cutaway, std::int64_t place, std::int64_t count) {
    if (count == 0) {
        tellRecords(cutaway);
    } else if (QAccessible::isActive()) {
        using Event = QAccessibleTableModelChangeEvent;
        Event event(&cutaway, count > 0 ? Event::RowsInserted : Event::RowsRemoved);
        event.setFirstRow(static_cast<int>(place));
        event.setLastRow(static_cast<int>(place + std::abs(count) - 1));
        QAccessible::updateAccessibility(&event);
    }
}

} // namespace scorrere::workbench
