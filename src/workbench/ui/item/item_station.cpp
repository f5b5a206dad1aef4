// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/item_station.h"

#include "render/source_call.h"
#include "workbench/model/design_facts.h"
#include "workbench/model/devices.h"
#include "workbench/model/table_design.h"
#include "workbench/ui/look/labels.h"
#include "workbench/ui/look/lead_words.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

constexpr int kFindAfterMs = 500;
constexpr int kRevealEveryMs = 3;
constexpr int kProblemAfterMs = 900;
constexpr std::size_t kMostSettings = 12; ///< more would bury the board

} // namespace

ItemStation::ItemStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), sentence_(new ItemSentence(look())), board_(new ExtremesBoard(look(), model_)),
      card_(new PartCard(look(), model_)), tray_(new FieldsTray(look())),
      gallery_(new StartingGallery(look())), pane_(new DesignPane(look())),
      splitter_(new QSplitter(Qt::Horizontal)) {
    setObjectName(QStringLiteral("itemStation"));
    connectSentence();
    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeHintRow());
    states_ = new StateRow(look());
    column->addWidget(states_);
    connect(states_, &StateRow::stateChanged, this, [this] {
        model_.setState(states_->state());
        board_->arrange();
    });
    column->addWidget(board_, 1);
    splitter_->addWidget(left);
    splitter_->addWidget(makeRight());
    splitter_->setStretchFactor(0, 1);
    splitter_->setStretchFactor(1, 0);
    splitter_->setChildrenCollapsible(false);
    splitter_->setSizes({940, 340});
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->addWidget(splitter_);
    hardDue_.setSingleShot(true);
    hardDue_.setInterval(kFindAfterMs);
    connect(&hardDue_, &QTimer::timeout, this, &ItemStation::findHard);
    revealDue_.setInterval(kRevealEveryMs);
    connect(&revealDue_, &QTimer::timeout, this, &ItemStation::showMore);
    connect(&search_, &HardSearch::foundMore, this, &ItemStation::showHard);
    connect(&search_, &HardSearch::looked, this, [this] {
        tellSentence();
        tellHint();
    });
    connectBoard();
    connectCard();
    connect(&look(), &Look::changed, this, &ItemStation::restyle);
    board_->setMessage(tr("Open records first: Alt+1 goes to Source, Ctrl+2 opens the demo."));
    addOwn(QStringLiteral("designText"), tr("Design as text"), QKeySequence(tr("Ctrl+T")),
           [this] { showText(!showsText()); });
    addOwn(QStringLiteral("sortAction"), tr("Specimens from short to tall again"), QKeySequence(tr("H")),
           [this] { sortSpecimens(); });
    addOwn(QStringLiteral("doublePart"), tr("Double the part"), QKeySequence(tr("Ctrl+Shift+D")),
           [this] { duplicateSelected(); });
    connect(&workspace(), &Workspace::replaced, this, &ItemStation::takeReplaced);
    connect(&workspace(), &Workspace::changed, this, &ItemStation::takeChanged);
    connect(&workspace(), &Workspace::grew, this, &ItemStation::takeGrowth);
    restyle();
    tellRight();
}

ItemStation::~ItemStation() {
    // A field that has the focus tells what was typed when it goes: nobody is there to hear it.
    card_->disconnect(this);
    pane_->disconnect(this);
    board_->disconnect(this);
}

const CollectionDocument& ItemStation::document() const {
    static const CollectionDocument kNone;
    return workspace().isOpen() ? workspace().document() : kNone;
}

/// How its pictures may be asked for.
render::PictureCalls ItemStation::calls() const {
    const Opened& opened = workspace().opened();
    return {nullptr, opened.access, render::ownHeaders(opened.document.source, opened.secret)};
}

/// The parts of the design that is shown, by what they are and what they say.
std::vector<Offer> ItemStation::offers(const QString&) {
    std::vector<Offer> all;
    if (model_.design() == nullptr) {
        return all;
    }
    for (const PlanPart& part : model_.design()->parts()) {
        const Json* json = draft_.part(part.pointer);
        if (json == nullptr || !json->is_object()) {
            continue;
        }
        const std::string word = partWordOf(*json);
        const auto said = json->find(word);
        Target target;
        target.part = QString::fromStdString(part.pointer);
        all.push_back(
            {{},
             said != json->end() && said->is_string()
                 ? tr("Part: %1 %2")
                       .arg(QString::fromStdString(word), QString::fromStdString(said->get<std::string>()))
                 : tr("Part: %1").arg(QString::fromStdString(word)),
             {},
             [this, target] { reveal(target); }});
    }
    return all;
}

void ItemStation::save(QSettings& settings) const {
    settings.setValue(QStringLiteral("itemSplitter"), splitter_->saveState());
}

void ItemStation::restore(QSettings& settings) {
    splitter_->restoreState(settings.value(QStringLiteral("itemSplitter")).toByteArray());
}

void ItemStation::reveal(const Target& target) {
    if (!target.part.isEmpty()) {
        board_->select(target.part.toStdString());
    }
}

void ItemStation::connectSentence() {
    connect(sentence_, &ItemSentence::whichWanted, this, &ItemStation::setWhich);
    connect(sentence_, &ItemSentence::newKindWanted, this, &ItemStation::addKind);
    connect(sentence_, &ItemSentence::newEndWanted, this, &ItemStation::addEnd);
    connect(sentence_, &ItemSentence::ruleWanted, this, [this](const QString& rule) {
        DesignDraft draft = draft_;
        const std::string pointer = "/items/kinds/" + std::to_string(which_);
        draft.set(pointer, "field", {});
        draft.set(pointer, "is", {});
        draft.set(pointer, "when", rule.toStdString());
        tryDraft(tr("which records a kind takes"), draft, {}, board_->selected());
        tellSentence();
    });
    connect(sentence_, &ItemSentence::localeWanted, this, [this](const QString& locale) {
        CollectionDocument to = document();
        to.locale = locale.toStdString();
        workspace().change(tr("language"), std::move(to));
    });
    connect(sentence_, &ItemSentence::boardWanted, this, [this](const QString& what, const BoardSpec& board) {
        CollectionDocument to = document();
        to.board = board;
        workspace().change(what, std::move(to));
    });
}

void ItemStation::sortSpecimens() {
    model_.sortByHeight();
    board_->arrange();
    tellHint();
}

QWidget* ItemStation::makeRight() {
    auto* inner = new QWidget;
    inner->setObjectName(QStringLiteral("itemRight"));
    auto* column = new QVBoxLayout(inner);
    column->setContentsMargins(4, 10, 12, 10);
    column->setSpacing(8);
    column->addWidget(card_);
    column->addWidget(gallery_);
    column->addWidget(tray_);
    column->addStretch(1);
    scroll_ = new FittingScroll;
    scroll_->setObjectName(QStringLiteral("itemScroll"));
    scroll_->setWidget(inner);
    rightPages_ = new QStackedWidget;
    rightPages_->addWidget(scroll_);
    rightPages_->addWidget(pane_);
    return rightPages_;
}

void ItemStation::restyle() {
    scroll_->setLeast(static_cast<int>(look().scaled(300)));
    hint_->setFont(look().font(12));
    hint_->setStyleSheet(QStringLiteral("color: %1;").arg(look().quiet.name()));
    for (QPushButton* button : {looking_, sort_, boxes_, touch_, text_}) {
        button->setFont(look().font(12));
        button->setStyleSheet(
            QStringLiteral("QPushButton { color: %1; background: transparent; border: 1px solid %2; "
                           "border-radius: 10px; padding: 2px 11px; }"
                           "QPushButton:checked { background: %3; }"
                           "QPushButton:focus { border: 2px solid %4; padding: 1px 10px; }")
                .arg(look().ink.name(), look().edge.name(), look().card.name(), look().accent.name()));
    }
    card_->setStyleSheet(
        QStringLiteral("#partCard { background: %1; border: 1.5px solid %2; border-radius: 9px; }"
                       "#partCard QLineEdit { background: %3; color: %4; border: 1px solid %5; "
                       "border-radius: 4px; padding: 4px 7px; }"
                       "#partCard QLineEdit:focus { border: 1.5px solid %2; }")
            .arg(look().card.name(), look().accent.name(), look().ground.name(), look().ink.name(),
                 look().edge.name()));
    gallery_->setStyleSheet(
        QStringLiteral("#startingGallery { background: %1; border: 1px solid %2; border-radius: 9px; }")
            .arg(look().card.name(), look().edge.name()));
    gallery_->setAttribute(Qt::WA_StyledBackground);
}

void ItemStation::connectBoard() {
    connect(board_, &ExtremesBoard::selectionChanged, this, &ItemStation::tellRight);
    connect(board_, &ExtremesBoard::addWanted, this, &ItemStation::openAddMenu);
    connect(board_, &ExtremesBoard::wrapWanted, this, &ItemStation::openBoxMenu);
    connect(board_, &ExtremesBoard::removeWanted, this, &ItemStation::removeSelected);
    connect(board_, &ExtremesBoard::duplicateWanted, this, &ItemStation::duplicateSelected);
    connect(board_, &ExtremesBoard::editWanted, this, [this] { card_->focusBinding(); });
    connect(board_, &ExtremesBoard::moveWanted, this,
            [this](const QString& from, const QString& box, int place) {
                DesignDraft draft = draft_;
                const std::string to =
                    draft.move(from.toStdString(), box.toStdString(), static_cast<std::size_t>(place));
                if (!to.empty()) {
                    tryDraft(tr("move"), draft, {}, to);
                }
            });
    connect(board_, &ExtremesBoard::stepWanted, this, [this](const QString& pointer, int by) {
        DesignDraft draft = draft_;
        const std::string to = draft.step(pointer.toStdString(), by);
        if (!to.empty()) {
            tryDraft(tr("move"), draft, {}, to);
        }
    });
    connect(board_, &ExtremesBoard::sizeWanted, this, [this](const QString& at, double width, double height) {
        DesignDraft draft = draft_;
        const std::string pointer = at.toStdString();
        const std::string word = draft.resize(pointer, width, height);
        tryDraft(tr("size of %1").arg(QString::fromStdString(word)), draft, {}, pointer);
    });
    connect(board_, &ExtremesBoard::columnWidthWanted, this, [this](int column, std::optional<double> width) {
        const auto index = static_cast<std::size_t>(column);
        if (index >= document().item.children.size()) {
            return;
        }
        DesignDraft draft = draft_;
        const std::string& cell = document().item.children[index].pointer;
        draft.set(cell, "width", width ? Json(*width) : Json());
        draft.set(cell, "grow", {});
        tryDraft(tr("width of column %1").arg(column + 1), draft, {}, board_->selected());
    });
    connect(board_, &ExtremesBoard::gapWanted, this, [this](const QString& box, double gap) {
        DesignDraft draft = draft_;
        draft.set(box.toStdString(), "gap", gap);
        tryDraft(tr("gap"), draft, {}, box.toStdString());
    });
}

void ItemStation::connectCard() {
    connect(card_, &PartCard::draftWanted, this,
            [this](const QString& what, const DesignDraft& draft, const QString& merge) {
                tryDraft(what, draft, merge, card_->pointer());
            });
    connect(card_, &PartCard::parameterWanted, this, &ItemStation::wantParameter);
    connect(card_, &PartCard::parameterChanged, this, &ItemStation::changeParameter);
    connect(card_, &PartCard::missingWanted, this, &ItemStation::makeMissing);
    connect(card_, &PartCard::typingEnded, this, &ItemStation::tellRefused);
    problemDue_.setSingleShot(true);
    problemDue_.setInterval(kProblemAfterMs);
    connect(&problemDue_, &QTimer::timeout, this, &ItemStation::tellRefused);
    connect(card_, &PartCard::removeWanted, this, &ItemStation::removeSelected);
    connect(card_, &PartCard::duplicateWanted, this, &ItemStation::duplicateSelected);
    connect(card_, &PartCard::wrapWanted, this,
            [this](QPoint global) { openBoxMenu(QString::fromStdString(card_->pointer()), global); });
    connect(card_, &PartCard::unwrapWanted, this, [this] {
        DesignDraft draft = draft_;
        const std::string to = draft.unwrap(card_->pointer());
        if (!to.empty()) {
            tryDraft(tr("unbox"), draft, {}, to);
        }
    });
    connect(tray_, &FieldsTray::emptied, this, [this] { board_->setFocus(); });
    connect(tray_, &FieldsTray::fieldWanted, this, &ItemStation::addField);
    connect(gallery_, &StartingGallery::chosen, this, [this](const QString& name, const Json& design) {
        DesignDraft draft = draft_;
        draft.replace(rootPointer(), design);
        if (which_ == kRecordDesign) { // of a table its parts become cells
            if (auto made = document().withDesign(draft.text())) {
                draft = DesignDraft(asTable(std::move(*made)).designText());
            }
        }
        tryDraft(tr("begin with %1").arg(name), draft, {}, {});
    });
    connect(pane_, &DesignPane::textWanted, this, &ItemStation::tryText);
}

/// What of the design is decided, and may not be what was meant.
void ItemStation::tellFindings() {
    std::vector<Finding> told;
    for (const auto& [pointer, list] : stripsAlong(document())) {
        const bool isSideways = document().arrangement.sideways.has_value();
        told.push_back(
            {(isSideways ? tr("The strip of %1 runs sideways, as the collection around it does: a drag "
                              "or the wheel moves the strip first, and the collection only at its ends.")
                         : tr("The strip of %1 runs down, as the collection around it does: a drag or "
                              "the wheel moves the strip first, and the collection only at its ends."))
                 .arg(QString::fromStdString(list)),
             true,
             {id(), QString::fromStdString(pointer), {}}});
    }
    workspace().findings().tell(id(), std::move(told));
}

/// What was looked at may be gone.
void ItemStation::takeWhich() {
    const auto* table = std::get_if<TableSpec>(&document().arrangement.form);
    const bool isGone = which_ >= static_cast<int>(document().kinds.size()) ||
                        (isOfEntries(which_) && stripOf(document(), which_) == nullptr) ||
                        (which_ == kHeadingDesign && (table == nullptr || !table->heading)) ||
                        (which_ == kDetailDesign && !document().detail);
    which_ = isGone ? kRecordDesign : which_;
}

void ItemStation::takeReplaced(bool again) {
    tellFindings();
    search_.forget();
    draft_ = DesignDraft(document().designText());
    render::disposeElsewhere(std::exchange(records_, workspace().records()));
    makePictures();
    if (!again) {
        which_ = kRecordDesign;
        board_->select({});
    }
    takeWhich();
    isStale_ = true;
    revealDue_.stop();
    if (isActive_) {
        wake();
    }
}

/// Pictures stay as long as they come from the same places.
void ItemStation::makePictures() {
    const render::PictureCalls calls = this->calls();
    std::string source =
        document().source.address + '\n' + document().folder() + (document().source.isDemo ? "demo" : "");
    if (calls.access && !calls.access->anyHost) {
        for (const std::string& origin : calls.access->origins) {
            source += '\n' + origin;
        }
    }
    if (pictures_ && source == picturesOf_) {
        return;
    }
    picturesOf_ = source;
    board_->setPictures(nullptr);
    model_.setPictures(nullptr);
    pictures_ = std::make_shared<render::PictureCache>(workbench::picturesOf(document(), calls),
                                                       document().pictureBudgetMiB << 20);
    connect(pictures_.get(), &render::PictureCache::arrived, this, [this] {
        board_->viewport()->update();
        gallery_->update();
        for (auto* tile : gallery_->findChildren<QWidget*>()) {
            tile->update();
        }
    });
    connect(pictures_.get(), &render::PictureCache::sized, this, [this](const QString& address) {
        const std::string came = address.toStdString();
        if (std::ranges::any_of(model_.specimens(),
                                [&](const Specimen& s) { return s.view->awaitsShapeOf(came); })) {
            model_.refill();
            board_->arrange();
        }
    });
    model_.setPictures(pictures_);
    board_->setPictures(pictures_);
}

void ItemStation::takeGrowth(bool last) {
    records_ = workspace().records();
    if (!isActive_ || isStale_) {
        isStale_ = true;
        search_.doubt();
        return;
    }
    model_.setRecords(records_);
    if (last || search_.found().empty()) {
        findHard();
    }
}

void ItemStation::entered() {
    isActive_ = true;
    workspace().gather(); // what pages brought so far, not the first page alone
    board_->setFocus();
    wake();
}

void ItemStation::left() {
    isActive_ = false;
}

/// What it shows is made when it is seen, not before.
void ItemStation::wake() {
    if (records_ && isStale_) {
        // Showing the station is a turn's work of its own.
        QTimer::singleShot(0, this, [this] {
            if (isActive_ && std::exchange(isStale_, false)) {
                model_.setRecords(records_);
                applySettings();
                refresh();
                findHard();
            }
        });
    }
}

void ItemStation::takeChanged(Sections what) {
    if (!(what &
          (Section::Design | Section::Board | Section::Window | Section::Arrangement | Section::Noun))) {
        return;
    }
    tellFindings();
    draft_ = DesignDraft(document().designText());
    takeWhich();
    if (!isActive_ || isStale_) {
        isStale_ = true;
        search_.doubt();
        return;
    }
    if (what & (Section::Board | Section::Window | Section::Arrangement)) {
        applySettings();
        showHard();
    }
    refresh();
    hardDue_.start();
}

/// How wide an entry of a strip is, in an item so wide; nothing: no entry is looked at.
std::optional<double> ItemStation::entryWidth(double item) const {
    const PartSpec* strip = isOfEntries(which_) ? stripOf(document(), which_) : nullptr;
    if (strip == nullptr) {
        return std::nullopt;
    }
    const Length width = strip->width.value_or(Length::fromPx(item));
    return itemWidth(stripArrangement(document(), which_), width, strip->height.value_or(Length::px(120)))
        .toPx();
}

std::vector<BoardSetting> ItemStation::settings() const {
    const BoardSpec& board = document().board;
    const std::vector<double> scales =
        board.textScales.empty() ? std::vector<double>{document().window.textScale} : board.textScales;
    const std::vector<double> densities = board.densities.empty() ? std::vector<double>{1} : board.densities;
    // Header and footer have the strip's whole width, whatever stands between them.
    ArrangementSpec arrangement = document().arrangement;
    if (!isOfRecords(which_)) {
        arrangement.form = ListSpec();
    }
    const int span =
        which_ >= 0 ? spanOf(arrangement, document().kinds[static_cast<std::size_t>(which_)].name) : 1;
    const Device& device = deviceNamed(document().window.device);
    const int height = document().window.upright ? device.height : device.width;
    std::vector<BoardSetting> all;
    for (const double width : boardWidths(document())) {
        for (const double scale : scales) {
            for (const double density : densities) {
                const double inner =
                    itemWidth(arrangement, Length::fromPx(width), Length::px(height), span).toPx();
                all.push_back({std::max(entryWidth(inner).value_or(inner), 1.0), scale, density});
            }
        }
    }
    if (all.size() > kMostSettings) {
        all.resize(kMostSettings);
    }
    return all;
}

void ItemStation::applySettings() {
    model_.setSettings(settings());
    board_->arrange();
    if (isActive_ && !isStale_) {
        hardDue_.start();
    }
}

/// The board, the card and the text as the document has them now.
void ItemStation::refresh() {
    if (Outcome set = model_.setDesign(document(), which_); !set) {
        const Error& error = set.error();
        board_->setMessage(
            tr("This design does not fit the records: %1").arg(QString::fromStdString(error.text())));
        hint_->setText(tr("The design does not fit the records, so the last one that did is shown. %1")
                           .arg(QString::fromStdString(error.text())));
        pane_->setText(QString::fromStdString(document().designText()));
        pane_->setError(error);
        board_->arrange();
        return;
    }
    states_->offer(model_.design() == nullptr ? ItemState() : model_.design()->readsState());
    board_->setMessage(records_ && records_->size() == 0 ? tr("There are no records to show it on yet.")
                                                         : tr("Looking for the records that break it…"));
    board_->arrange();
    if (showsText()) {
        pane_->setText(QString::fromStdString(document().designText()));
        pane_->setError(std::nullopt);
    }
    tellRight();
    tellSentence();
    absent_ = records_ ? absentFields(document(), *records_) : std::vector<std::string>();
    tellHint();
}

void ItemStation::tellSentence() {
    sentence_->say({document(), which_, settings(), search_.found().size(), search_.considered()});
}

/// A kind begins as the record's design, for records that are like one of those that there are.
void ItemStation::addKind() {
    DesignDraft draft = draft_;
    Json kinds = draft.member("/items", "kinds");
    kinds = kinds.is_array() ? kinds : Json::array();
    std::size_t number = kinds.size() + 1;
    const auto nameOf = [](std::size_t n) { return tr("kind %1").arg(n).toStdString(); };
    while (std::ranges::any_of(kinds, [&](const Json& kind) {
        return kind.is_object() && kind.value("name", std::string()) == nameOf(number);
    })) {
        ++number;
    }
    kinds.push_back({{"name", nameOf(number)},
                     {"when", kindRule(*records_)},
                     {"design", draft.member("/items", "record")}});
    draft.set("/items", "kinds", kinds);
    const int made = static_cast<int>(kinds.size()) - 1;
    tryDraft(tr("new kind"), draft, {}, {});
    setWhich(made);
}

/// Every field, one below the other, under what the first text says.
static Json plainDetail(const RecordTable& records) {
    constexpr std::size_t kMostFields = 24;
    Json parts = Json::array();
    bool isTitled = false;
    for (const Field& field : records.fields()) {
        if (parts.size() >= kMostFields) {
            break;
        }
        const bool isTitle = !isTitled && field.type == FieldType::Text;
        if (isTitle) {
            isTitled = true;
            parts.insert(parts.begin(),
                         Json{{"text", "{" + field.name + "}"}, {"size", 22}, {"weight", 700}, {"lines", 0}});
            continue;
        }
        parts.push_back({{"column",
                          {{{"text", field.name}, {"size", 11}, {"colour", "quiet"}},
                           {{"text", "{" + field.name + "}"}, {"size", 15}, {"lines", 0}}}}});
    }
    return {{"column", parts}, {"gap", 10}, {"padding", 16}};
}

void ItemStation::addEnd(int which) {
    const std::string pointer = designPointer(document(), which);
    const std::string member = pointer.substr(pointer.rfind('/') + 1);
    const QString name = which == kHeaderDesign          ? tr("header")
                         : which == kFooterDesign        ? tr("footer")
                         : which == kSectionHeaderDesign ? tr("section header")
                         : which == kHeadingDesign       ? tr("heading")
                         : which == kDetailDesign        ? tr("record at length")
                                                         : tr("section footer");
    DesignDraft draft = draft_;
    draft.set("/items", member,
              which == kSectionHeaderDesign        ? Json::parse(usualSectionHeader())
              : which == kHeadingDesign            ? Json::parse(usualHeading(document().item))
              : which == kDetailDesign && records_ ? plainDetail(*records_)
              : which == kSectionFooterDesign
                  ? Json{{"text", "{count, plural, one {# record} other {# records}}"},
                         {"size", 12},
                         {"colour", "quiet"},
                         {"padding", {6, 16}}}
                  : Json{{"text", tr("New %1").arg(name).toStdString()}, {"padding", 16}});
    which_ = which;
    model_.setSettings(settings());
    tryDraft(tr("new %1").arg(name), draft, {}, pointer);
}

void ItemStation::setWhich(int which) {
    which_ = which < static_cast<int>(document().kinds.size()) ? which : kRecordDesign;
    board_->select({});
    search_.forget();
    revealDue_.stop();
    model_.setHard({}, {});         // nothing of it keeps its place
    model_.setSettings(settings()); // a cell is not as wide as a header
    refresh();
    findHard();
}

void ItemStation::tellRight() {
    const std::string& selected = board_->selected();
    const bool hasPart = !selected.empty();
    card_->setVisible(hasPart);
    gallery_->setVisible(!hasPart && records_ != nullptr && isOfRecords(which_));
    if (hasPart) {
        card_->show(draft_, selected);
    } else if (records_ && records_->size() > 0 && isActive_ && pictures_ && !search_.found().empty()) {
        gallery_->show(document(), records_, search_.median(), pictures_);
    }
    tray_->show(records_.get(), model_.design());
    tray_->setVisible(records_ != nullptr && isOfRecords(which_));
}

} // namespace scorrere::workbench

#include "moc_item_station.cpp"
