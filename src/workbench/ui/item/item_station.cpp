// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/item_station.h"

#include "render/source_call.h"
#include "workbench/model/devices.h"
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
constexpr std::size_t kMostSettings = 12; ///< more would bury the board

/// "412 and 320", "412, 360 and 320".
QString listInWords(const QStringList& words) {
    return words.size() < 2 ? words.join(QString())
                            : words.mid(0, words.size() - 1).join(QStringLiteral(", ")) +
                                  QObject::tr(" and ") + words.last();
}

QStringList listFromWords(QString words) {
    words.replace(QObject::tr(" and "), QStringLiteral(","));
    QStringList parts;
    for (const QString& part : words.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        parts << part.trimmed();
    }
    return parts;
}

/// Numbers as typed, each from `lowest` to `highest`; empty when something else stands there.
std::vector<double> numbersFromWords(const QString& words, double lowest, double highest) {
    std::vector<double> numbers;
    for (const QString& part : listFromWords(words)) {
        bool isNumber = false;
        const double number = part.toDouble(&isNumber);
        if (!isNumber || number < lowest || number > highest) {
            return {};
        }
        numbers.push_back(number);
    }
    return numbers;
}

QString singular(const std::string& noun) {
    QString word = QString::fromStdString(noun);
    if (word.endsWith(QLatin1String("ies"))) {
        return word.chopped(3) + QLatin1Char('y');
    }
    return word.endsWith(QLatin1Char('s')) && !word.endsWith(QLatin1String("ss")) ? word.chopped(1) : word;
}

} // namespace

ItemStation::ItemStation(const StationNeeds& needs, QWidget* parent)
    : Station(needs, parent), sentence_(new SentenceBar(look())), board_(new ExtremesBoard(look(), model_)),
      card_(new PartCard(look(), model_)), tray_(new FieldsTray(look())),
      gallery_(new StartingGallery(look())), pane_(new DesignPane(look())),
      splitter_(new QSplitter(Qt::Horizontal)) {
    setObjectName(QStringLiteral("itemStation"));
    makeSentence();
    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(makeHintRow());
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
    connectBoard();
    connectCard();
    connect(&look(), &Look::changed, this, &ItemStation::restyle);
    board_->setMessage(tr("Open records first: Alt+1 goes to Source, Ctrl+2 opens the demo."));
    addOwn(QStringLiteral("designText"), tr("Design as text"), QKeySequence(tr("Ctrl+T")),
           [this] { showText(!showsText()); });
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

void ItemStation::makeSentence() {
    sentence_->setObjectName(QStringLiteral("itemSentence"));
    sentence_->addText(tr("A"));
    whichWord_ = sentence_->addWord(QStringLiteral("wordWhich"), tr("Which design is shown"));
    ruleWord_ = sentence_->addWord(QStringLiteral("wordRule"), tr("Which records it is for: a condition"));
    sentence_->addText(tr("looks like this, shown"));
    widthsWord_ = sentence_->addWord(QStringLiteral("wordWidths"), tr("How wide it is looked at, px"));
    sentence_->addText(tr("wide, text at"));
    scalesWord_ = sentence_->addWord(QStringLiteral("wordScales"), tr("The text sizes it is looked at in"));
    sentence_->addText(tr(", at density"));
    densitiesWord_ = sentence_->addWord(QStringLiteral("wordDensities"), tr("Device px to a px"));
    sentence_->addText(tr(", on the"));
    mostWord_ = sentence_->addWord(QStringLiteral("wordHardest"), tr("How many of the hardest records"));
    sentence_->addText(tr("and"));
    pinnedWord_ =
        sentence_->addWord(QStringLiteral("wordPinned"), tr("Records looked at in any case, by number"));
    sentence_->addText(tr("."));

    ruleWord_->setReader([](const QString& typed) { return tr("when %1").arg(typed.trimmed()); },
                         tr("a condition, as in @.count > 5"));
    widthsWord_->setChoices({QStringLiteral("412"), QStringLiteral("360"), QStringLiteral("412 and 320"),
                             QStringLiteral("360, 412 and 768")});
    const auto canonical = [](double lowest, double highest) {
        return [lowest, highest](const QString& typed) {
            QStringList words;
            for (const double number : numbersFromWords(typed, lowest, highest)) {
                words << QString::number(number);
            }
            return listInWords(words);
        };
    };
    widthsWord_->setReader(canonical(40, 4000), tr("px, 40 to 4000, as in 412 and 320"));
    scalesWord_->setChoices(
        {QStringLiteral("100%"), QStringLiteral("85%"), QStringLiteral("150%"), QStringLiteral("200%"),
         tr("%1 and %2").arg(QStringLiteral("100%"), QStringLiteral("150%")), tr("85%, 100% and 200%")});
    scalesWord_->setReader(
        [](const QString& typed) {
            QStringList words;
            for (const QString& part : listFromWords(typed)) {
                const auto scale = scaleFromWords(part);
                if (!scale) {
                    return QString();
                }
                words << scaleInWords(*scale);
            }
            return listInWords(words);
        },
        tr("per cent, 50 to 400, as in 100% and 150%"));
    densitiesWord_->setChoices({QStringLiteral("1"), QStringLiteral("2"), QStringLiteral("1, 1.5, 2 and 3")});
    densitiesWord_->setReader(canonical(0.5, 8), tr("0.5 to 8, as in 1, 2 and 3"));
    pinnedWord_->setChoices({tr("no others")});
    pinnedWord_->setReader(
        [](const QString& typed) {
            QStringList words;
            for (const double number : numbersFromWords(QString(typed).remove(tr("no. ")), 1, 1e15)) {
                words << QString::number(number, 'f', 0);
            }
            return words.isEmpty() ? QString() : tr("no. %1").arg(listInWords(words));
        },
        tr("numbers of records, as in 12 and 40"));

    connect(whichWord_, &SentenceWord::wordChosen, this, &ItemStation::tellWhich);
    connect(ruleWord_, &SentenceWord::wordChosen, this, [this](const QString& word) {
        DesignDraft draft = draft_;
        const std::string pointer = "/items/kinds/" + std::to_string(which_);
        draft.set(pointer, "field", {});
        draft.set(pointer, "is", {});
        draft.set(pointer, "when", word.mid(tr("when ").size()).toStdString());
        tryDraft(tr("which records a kind takes"), draft, {}, board_->selected());
        tellSentence();
    });
    const auto board = [this](const QString& what, auto change) {
        return [this, what, change](const QString& word) {
            CollectionDocument to = document();
            change(to.board, word);
            workspace().change(what, std::move(to));
        };
    };
    connect(widthsWord_, &SentenceWord::wordChosen, this,
            board(tr("widths looked at"),
                  [](BoardSpec& to, const QString& word) { to.widths = numbersFromWords(word, 40, 4000); }));
    connect(scalesWord_, &SentenceWord::wordChosen, this,
            board(tr("text sizes looked at"), [](BoardSpec& to, const QString& word) {
                to.textScales.clear();
                for (const QString& part : listFromWords(word)) {
                    to.textScales.push_back(scaleFromWords(part).value_or(1));
                }
            }));
    connect(densitiesWord_, &SentenceWord::wordChosen, this,
            board(tr("densities looked at"),
                  [](BoardSpec& to, const QString& word) { to.densities = numbersFromWords(word, 0.5, 8); }));
    connect(pinnedWord_, &SentenceWord::wordChosen, this,
            board(tr("pinned records"), [](BoardSpec& to, const QString& word) {
                to.pinned.clear();
                for (const double number : numbersFromWords(QString(word).remove(tr("no. ")), 1, 1e15)) {
                    to.pinned.push_back(static_cast<std::int64_t>(number) - 1);
                }
            }));
    connect(mostWord_, &SentenceWord::wordChosen, this, [this](const QString& word) {
        const int most = word.section(QLatin1Char(' '), 0, 0).toInt();
        most_ =
            most > 0 && most < static_cast<int>(hard_.size()) ? static_cast<std::size_t>(most) : kExtremes;
        takeHard({hard_, considered_, isWhole_, 0});
    });
}

QWidget* ItemStation::makeHintRow() {
    auto* row = new QWidget;
    auto* box = new QHBoxLayout(row);
    box->setContentsMargins(18, 8, 12, 2);
    hint_ = new ElidedLabel;
    hint_->setObjectName(QStringLiteral("itemHint"));
    box->addWidget(hint_, 1);
    const auto button = [&](const QString& name, const QString& text, const QString& tip) {
        auto* made = new QPushButton(text);
        made->setObjectName(name);
        made->setToolTip(tip);
        made->setCheckable(true);
        box->addWidget(made);
        return made;
    };
    boxes_ = button(QStringLiteral("boxesButton"), tr("Boxes"), tr("Outline the boxes that parts stand in"));
    boxes_->setChecked(true);
    text_ =
        button(QStringLiteral("textButton"), tr("As text  Ctrl+T"), tr("The design as the document's JSON"));
    connect(boxes_, &QPushButton::toggled, this, [this](bool on) { board_->setShowsBoxes(on); });
    connect(text_, &QPushButton::toggled, this, &ItemStation::showText);
    return row;
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
    scroll_ = new QScrollArea;
    scroll_->setObjectName(QStringLiteral("itemScroll"));
    scroll_->setWidget(inner);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    rightPages_ = new QStackedWidget;
    rightPages_->addWidget(scroll_);
    rightPages_->addWidget(pane_);
    return rightPages_;
}

void ItemStation::restyle() {
    rightPages_->setMinimumWidth(static_cast<int>(look().scaled(300)));
    hint_->setFont(look().font(12));
    hint_->setStyleSheet(QStringLiteral("color: %1;").arg(look().quiet.name()));
    for (QPushButton* button : {boxes_, text_}) {
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
        const std::string word = partWordOf(draft.part(pointer) != nullptr ? *draft.part(pointer) : Json());
        const auto standing = DesignDraft::standingOf(pointer);
        const bool inRow = standing && standing->word == "row";
        if (word == "space" || word == "line") {
            draft.set(pointer, word,
                      word == "line" ? std::max(1.0, inRow ? width : height)
                      : inRow        ? width
                                     : height);
        } else {
            draft.set(pointer, "width", width);
            if (word != "text" && word != "badge") { // a text is as high as its lines
                draft.set(pointer, "height", height);
            }
        }
        tryDraft(tr("size of %1").arg(QString::fromStdString(word)), draft, {}, pointer);
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
    connect(tray_, &FieldsTray::fieldWanted, this, &ItemStation::addField);
    connect(gallery_, &StartingGallery::chosen, this, [this](const QString& name, const Json& design) {
        DesignDraft draft = draft_;
        draft.replace(rootPointer(), design);
        tryDraft(tr("begin with %1").arg(name), draft, {}, {});
    });
    connect(pane_, &DesignPane::textWanted, this, &ItemStation::tryText);
}

void ItemStation::takeReplaced(bool again) {
    job_.cancel();
    draft_ = DesignDraft(document().designText());
    render::disposeElsewhere(std::exchange(records_, workspace().records()));
    makePictures();
    if (!again) {
        which_ = kRecordDesign;
        board_->select({});
    }
    which_ = which_ >= static_cast<int>(document().kinds.size()) ? kRecordDesign : which_;
    isStale_ = true;
    isWhole_ = false;
    revealDue_.stop();
    hard_.clear();
    considered_ = 0;
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
        isWhole_ = false;
        return;
    }
    model_.setRecords(records_);
    if (last || hard_.empty()) {
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
    if (!(what & (Section::Design | Section::Board | Section::Window | Section::Noun))) {
        return;
    }
    draft_ = DesignDraft(document().designText());
    which_ = which_ >= static_cast<int>(document().kinds.size()) ? kRecordDesign : which_;
    if (!isActive_ || isStale_) {
        isStale_ = true;
        isWhole_ = false;
        return;
    }
    if (what & (Section::Board | Section::Window)) {
        applySettings();
        showHard();
    }
    refresh();
    hardDue_.start();
}

std::vector<BoardSetting> ItemStation::settings() const {
    const BoardSpec& board = document().board;
    const Device& device = deviceNamed(document().window.device);
    const double own = document().window.upright ? device.width : device.height;
    const std::vector<double> widths = board.widths.empty() ? std::vector<double>{own} : board.widths;
    const std::vector<double> scales =
        board.textScales.empty() ? std::vector<double>{document().window.textScale} : board.textScales;
    const std::vector<double> densities = board.densities.empty() ? std::vector<double>{1} : board.densities;
    std::vector<BoardSetting> all;
    for (const double width : widths) {
        for (const double scale : scales) {
            for (const double density : densities) {
                const double inner =
                    width - document().list.insets[1].toPx() - document().list.insets[3].toPx();
                all.push_back({std::max(inner, 1.0), scale, density});
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
        hint_->setText(tr("The design does not fit the records; the last one that did is shown. %1")
                           .arg(QString::fromStdString(error.text())));
        pane_->setText(QString::fromStdString(document().designText()));
        pane_->setError(error);
        board_->arrange();
        return;
    }
    board_->setMessage(records_ && records_->size() == 0 ? tr("There are no records to show it on yet.")
                                                         : tr("Looking for the records that break it…"));
    board_->arrange();
    if (showsText()) {
        pane_->setText(QString::fromStdString(document().designText()));
        pane_->setError(std::nullopt);
    }
    tellRight();
    tellSentence();
    tellAbsent();
    tellHint();
}

void ItemStation::tellHint() {
    if (!records_) {
        return;
    }
    int faults = 0;
    for (const Specimen& specimen : model_.specimens()) {
        faults += specimen.faults.empty() ? 0 : 1;
    }
    QString words = tr("Shortest to tallest. Click a part on any of them: it is the same part on all.");
    if (faults > 0) {
        words = tr("Parts are cut or fall outside on %1 of %2. ").arg(faults).arg(model_.specimens().size()) +
                words;
    } else if (!isWhole_ && considered_ > 0) {
        words =
            tr("%1 of %2 looked at so far. ").arg(grouped(considered_), grouped(records_->size())) + words;
    }
    if (!absent_.isEmpty()) {
        words = tr("A rule asks for %1, which no record has. ").arg(absent_.join(tr(" and "))) + words;
    }
    hint_->setText(words);
}

void ItemStation::tellSentence() {
    QStringList names{singular(document().noun)};
    if (document().header) {
        names << tr("header");
    }
    if (document().footer) {
        names << tr("footer");
    }
    for (const KindSpec& kind : document().kinds) {
        names << QString::fromStdString(kind.name);
    }
    QStringList choices = names;
    choices << tr("new kind");
    if (!document().header) {
        choices << tr("new header");
    }
    if (!document().footer) {
        choices << tr("new footer");
    }
    whichWord_->setChoices(choices);
    whichWord_->setWord(which_ >= 0
                            ? QString::fromStdString(document().kinds[static_cast<std::size_t>(which_)].name)
                        : which_ == kHeaderDesign ? tr("header")
                        : which_ == kFooterDesign ? tr("footer")
                                                  : names.first());
    ruleWord_->setWord(which_ >= 0 ? tr("when %1").arg(QString::fromStdString(
                                         document().kinds[static_cast<std::size_t>(which_)].when))
                                   : QString());
    QStringList widths;
    QStringList scales;
    QStringList densities;
    for (const BoardSetting& setting : settings()) {
        const auto add = [](QStringList& list, const QString& word) {
            if (!list.contains(word)) {
                list << word;
            }
        };
        add(widths, QString::number(setting.width + document().list.insets[1].toPx() +
                                    document().list.insets[3].toPx()));
        add(scales, scaleInWords(setting.textScale));
        add(densities, QString::number(setting.density));
    }
    widthsWord_->setWord(listInWords(widths));
    scalesWord_->setWord(listInWords(scales));
    densitiesWord_->setWord(listInWords(densities));
    const auto shown = std::min(most_, hard_.size());
    mostWord_->setWord(shown == 0 ? tr("hardest of the records")
                                  : tr("%1 hardest of %2 records").arg(shown).arg(grouped(considered_)));
    QStringList most;
    for (const std::size_t n : {std::size_t{3}, std::size_t{6}, hard_.size()}) {
        if (n <= hard_.size() && n > 0) {
            most << tr("%1 hardest of %2 records").arg(n).arg(grouped(considered_));
        }
    }
    mostWord_->setChoices(most);
    QStringList pinned;
    for (const std::int64_t record : document().board.pinned) {
        pinned << QString::number(record + 1);
    }
    pinnedWord_->setWord(pinned.isEmpty() ? tr("no others") : tr("no. %1").arg(listInWords(pinned)));
    sentence_->settle();
}

/// Another design is chosen in the sentence, or a new one begun.
void ItemStation::tellWhich(const QString& word) {
    DesignDraft draft = draft_;
    const auto begin = [&](const char* member, int which) {
        draft.set("/items", member,
                  {{"text", tr("New %1").arg(QLatin1String(member)).toStdString()}, {"padding", 16}});
        which_ = which;
        tryDraft(tr("new %1").arg(QLatin1String(member)), draft, {}, designPointer(which));
    };
    if (word == tr("new kind")) {
        Json kinds = draft.member("/items", "kinds");
        kinds = kinds.is_array() ? kinds : Json::array();
        const FieldRoles roles = fieldRoles(*records_);
        std::string when = "false";
        if (!roles.status.empty() && records_->size() > 0) {
            const auto handle = records_->find(roles.status);
            for (std::int64_t r = 0; r < std::min<std::int64_t>(records_->size(), 50) && handle; ++r) {
                if (records_->has(r, *handle)) {
                    when =
                        "@." + roles.status + " == " + Json(std::string(records_->text(r, *handle))).dump();
                }
            }
        }
        kinds.push_back({{"name", tr("kind %1").arg(kinds.size() + 1).toStdString()},
                         {"when", when},
                         {"design", draft.member("/items", "record")}});
        draft.set("/items", "kinds", kinds);
        const int made = static_cast<int>(kinds.size()) - 1;
        tryDraft(tr("new kind"), draft, {}, {});
        setWhich(made);
    } else if (word == tr("new header")) {
        begin("header", kHeaderDesign);
    } else if (word == tr("new footer")) {
        begin("footer", kFooterDesign);
    } else {
        const auto kind = std::ranges::find(document().kinds, word.toStdString(), &KindSpec::name);
        setWhich(kind != document().kinds.end() ? static_cast<int>(kind - document().kinds.begin())
                 : word == tr("header")         ? kHeaderDesign
                 : word == tr("footer")         ? kFooterDesign
                                                : kRecordDesign);
    }
}

void ItemStation::setWhich(int which) {
    which_ = which < static_cast<int>(document().kinds.size()) ? which : kRecordDesign;
    board_->select({});
    hard_.clear();
    revealDue_.stop();
    considered_ = 0;
    isWhole_ = false;
    model_.setHard({}, {});
    refresh();
    findHard();
}

void ItemStation::tellRight() {
    const std::string& selected = board_->selected();
    const bool hasPart = !selected.empty();
    card_->setVisible(hasPart);
    gallery_->setVisible(!hasPart && records_ != nullptr && which_ != kHeaderDesign &&
                         which_ != kFooterDesign);
    if (hasPart) {
        card_->show(draft_, selected);
    } else if (records_ && records_->size() > 0 && isActive_ && pictures_ && !hard_.empty()) {
        const auto median = std::ranges::find_if(hard_, [](const HardRecord& hard) {
            return std::ranges::find(hard.why, Extreme::Median) != hard.why.end();
        });
        gallery_->show(document(), records_, median == hard_.end() ? 0 : median->record, pictures_);
    }
    tray_->show(records_.get(), model_.design());
    tray_->setVisible(records_ != nullptr);
}

void ItemStation::findHard() {
    if (!records_ || !isActive_) {
        return;
    }
    hardDue_.stop();
    if (which_ == kHeaderDesign || which_ == kFooterDesign || records_->size() == 0) {
        job_.cancel();
        isWhole_ = true;
        hard_.clear();
        showHard();
        tellSentence();
        return;
    }
    const auto question = std::make_shared<HardQuestion>();
    question->document = document();
    question->which = which_;
    question->records = records_;
    question->pictures = workbench::picturesOf(document(), calls());
    question->width = model_.settings().front().width;
    question->textScale = model_.settings().front().textScale;
    question->nowMs = nowOf(document());
    isWhole_ = false;
    job_.start(
        [this, question](std::stop_token stop, const render::Job::Post& post) {
            return findHardRecords(*question, stop, [&](HardAnswer answer) {
                post([this, answer = std::move(answer)] { takeHard(answer); });
            });
        },
        [this](bool) {
            isWhole_ = true;
            tellHint();
        });
}

/// The hardest that were found, and those that are pinned. What was never shaped before takes its time, so at
/// first they come one a turn.
void ItemStation::showHard() {
    const std::size_t all = std::min(most_, hard_.size());
    revealed_ = model_.specimens().empty() ? std::min<std::size_t>(all, 1)
                                           : std::min(std::max(revealed_, std::size_t{1}), all);
    revealDue_.start();
    showMore();
}

void ItemStation::showMore() {
    const std::size_t all = std::min(most_, hard_.size());
    const bool whole = revealed_ >= all;
    model_.setHard({hard_.begin(), hard_.begin() + static_cast<std::ptrdiff_t>(std::min(revealed_, all))},
                   whole ? document().board.pinned : std::vector<std::int64_t>{});
    board_->arrange();
    if (whole) {
        revealDue_.stop();
        tellRight();
        tellHint();
    }
    ++revealed_;
}

void ItemStation::takeHard(const HardAnswer& answer) {
    // What is found while looking again is less than what was found before: only the whole replaces it.
    if (answer.isWhole || answer.considered >= considered_ || hard_.empty()) {
        hard_ = answer.records;
        considered_ = answer.considered;
        showHard();
    }
    isWhole_ = isWhole_ || answer.isWhole;
    tellSentence();
    tellHint();
}

} // namespace scorrere::workbench
