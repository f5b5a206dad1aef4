// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/collection_runner.h"

#include "engine/record/record_json.h"
#include "render/source_call.h"
#include "workbench/model/demo_service.h"
#include "workbench/model/design_edit.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/opening.h"
#include "workbench/model/record_changes.h"

#include <map>

namespace scorrere::workbench {

CollectionRunner::CollectionRunner(Workspace& workspace, std::string pagesFile)
    : workspace_(workspace), hands_(workspace), pagesFile_(std::move(pagesFile)) {
    workspace_.setPageRunner(this);
    connect(&driver_, &render::FrameDriver::frameDue, this, &CollectionRunner::makeFrame);
    connect(&workspace_.opening(), &Opening::busyChanged, this, [this](bool busy) {
        if (!busy) { // whatever came of it, no more will
            isWhole_ = true;
            applyEdits();
        }
    });
    connect(&workspace_, &Workspace::replaced, this, [this] {
        isWhole_ = false;
        if (Outcome shown = show(false); !shown) { // it was tried before it was put there
            Q_EMIT noticed(Notice::failed(tr("It cannot run."), shown.error()));
        }
    });
    connect(&workspace_, &Workspace::changed, this, &CollectionRunner::takeChanged);
    connect(&workspace_, &Workspace::grew, this, &CollectionRunner::takeGrowth);
}

CollectionRunner::~CollectionRunner() {
    workspace_.setPageRunner(nullptr);
}

void CollectionRunner::setHeadless(std::int64_t latencyMs) {
    driver_.setVirtual(true);
    estimating_ = render::Estimating::AtOnce;
    steadyMs_ = latencyMs;
}

void CollectionRunner::setSeen(bool seen) {
    isSeen_ = seen;
    if (seen) {
        showDesign();
    }
    if (paged() == nullptr) {
        return;
    }
    if (seen) {
        live_->startPages(driver_.nowUs());
        driver_.want();
    } else {
        live_->stopPages();
    }
}

void CollectionRunner::takeGrowth(bool last) {
    if (live_ == nullptr || paged() != nullptr) {
        return;
    }
    isWhole_ = isWhole_ || last;
    const auto all = windows();
    const auto isEdited = [](const render::LiveCollection* window) { return window->edited() != nullptr; };
    if (asIf_ || std::ranges::any_of(all, isEdited)) { // what is made up is made up of all of them
        isStale_ = isStale_ || last;
        if (last && isSeen_) {
            showDesign();
        }
        return;
    }
    if (Outcome grown = live_->grow(workspace_.records(), last); !grown) {
        Q_EMIT noticed(Notice::failed(tr("The records changed while they were being read."), grown.error()));
    }
    for (const auto& beside : besides_) {
        (void)bool(beside->grow(workspace_.records(), last)); // what is wrong was told
    }
    if (last) {
        applyEdits();
    }
}

void CollectionRunner::takeChanged(Sections what) {
    if (live_ == nullptr) {
        return;
    }
    if (what & (Section::Window | Section::Lead | Section::Paging)) {
        applyBehaviour();
    }
    if (what & Section::Motion) {
        applyMotion();
    }
    if (what & Section::Order) {
        applyOrder();
    }
    if (what & Section::Edits) {
        applyEdits();
    }
    if (what & Section::Hands) {
        for (render::LiveCollection* window : windows()) {
            window->setHands(workspace_.document().hands, workspace_.document().actions);
        }
    }
    const bool isOtherInWindow = !(arrangement_ == deviceWindow(workspace_.document()).arrangement);
    if (isOtherInWindow || (what & (Section::Design | Section::Arrangement | Section::AsIf))) {
        takeDesign();
    }
}

/// Other values of parameters are taken over at once; anything else when it is seen.
void CollectionRunner::takeDesign() {
    const CollectionDocument& document = workspace_.document();
    const bool sameLanguage = locale_ == document.locale;
    const bool sameArrangement = arrangement_ == deviceWindow(document).arrangement && asIf_ == document.asIf;
    if (!isStale_ && sameLanguage && sameArrangement && design_ != document.designText() &&
        differInValuesOnly(design_, document.designText())) {
        design_ = document.designText();
        for (render::LiveCollection* window : windows()) {
            window->setParameters(document.parameters);
        }
        Q_EMIT parametersTaken(document.parameters);
        driver_.want();
        return;
    }
    isStale_ = !sameLanguage || design_ != document.designText() || !sameArrangement;
    if (isSeen_) {
        showDesign();
    }
}

/// Goes on where it was, with the design as it is now.
void CollectionRunner::showDesign() {
    if (!isStale_ || live_ == nullptr) {
        return;
    }
    const HoldPoint hold = live_->run().hold();
    const Slot slot = live_->run().arrangement().slotAt(std::max<std::int64_t>(hold.position, 0));
    // Of a section's header, its first record.
    const std::int64_t record = slot.place + live_->leaf().first;
    const ArrangementSpec before = arrangement_;
    const bool wasSideways = live_->axis().isSideways;
    std::map<std::int64_t, Box> drawn = live_->drawnBoxes();
    const std::int64_t count = live_->recordCount();
    if (Outcome shown = show(true); !shown) {
        Q_EMIT noticed(Notice::failed(
            tr("The design does not fit the records, so the last one that did runs on."), shown.error()));
        return;
    }
    if (live_->leaf().isOne() && slot.role == Role::Record) {
        live_->showRecord(record); // which may be at its leaf's start
    } else if (hold.position > 0) {
        live_->run().jumpTo(slot.place >= 0 ? live_->run().arrangement().positionOf(record) : hold.position);
    }
    // Gathered by other headings they stand in another order: places say nothing then.
    const bool isSameOrder =
        !workspace_.document().order.isGathered || arrangement_.sections == before.sections;
    if (arrangement_ != before && isSameOrder && live_->axis().isSideways == wasSideways &&
        live_->recordCount() == count && !isHeadless()) {
        live_->beginFrom(std::move(drawn));
    }
    driver_.want();
}

std::unique_ptr<render::PagedRecords> CollectionRunner::makePages() const {
    const Opened& opened = workspace_.opened();
    render::WireSetup setup;
    setup.source = opened.document.source;
    setup.demoAddress = [demo = workspace_.sharedDemo()] { return demo->address(); };
    setup.secret = opened.secret;
    setup.diskFile = pagesFile_;
    setup.diskMiB = opened.document.paging.diskMiB;
    setup.diskDays = opened.document.paging.diskDays;
    setup.fields = opened.records->fields();
    setup.weather = weather_->get();
    setup.access = opened.access;
    setup.first = opened.first;
    auto pages = std::make_unique<render::PagedRecords>(opened.document.paging, setup);
    if (isHeadless()) {
        pages->setSteady(steadyMs_);
    }
    return pages;
}

std::shared_ptr<const render::PictureSource> CollectionRunner::makePictures() const {
    const Opened& opened = workspace_.opened();
    render::PictureCalls calls{nullptr, opened.access,
                               render::ownHeaders(opened.document.source, opened.secret)};
    if (!opened.document.source.isPaged()) {
        return picturesOf(opened.document, std::move(calls));
    }
    calls.weather = weather_;
    return wirePicturesOf(
        opened.document, [demo = workspace_.sharedDemo()] { return demo->address(); }, std::move(calls));
}

/// Those that there are, or as many as there are to be.
std::shared_ptr<const RecordTable> CollectionRunner::recordsToRun() const {
    const CollectionDocument& document = workspace_.document();
    const std::shared_ptr<const RecordTable>& own = workspace_.records();
    if (!document.asIf || document.source.isPaged()) {
        return own;
    }
    std::vector<FieldHandle> key;
    for (const std::string& name : document.source.key) {
        if (const auto field = own->find(name)) {
            key.push_back(*field);
        }
    }
    if (const auto likely = key.empty() ? likelyKey(*own) : std::nullopt) {
        key.push_back(*likely);
    }
    return std::make_shared<const RecordTable>(own->asIf(*document.asIf, key));
}

/// Runs what is open. On an error the one before goes on running. A service is read in pages while it is
/// seen; headless, everything is estimated at once, with steady answers.
/// `keepPages`: it is the same source as before, with another design; its pages stay.
Outcome CollectionRunner::show(bool keepPages) {
    const Opened& opened = workspace_.opened();
    const bool isPaged = opened.document.source.isPaged();
    std::shared_ptr<render::PagedRecords> pages;
    std::shared_ptr<const RecordTable> records = recordsToRun();
    if (isPaged && keepPages && paged() != nullptr) {
        // Pages may have brought wider fields; and they stay where they are until it is sure that all fits.
        records = std::make_shared<const RecordTable>(conformed(*records, paged()->fields()));
        if (Outcome fits = render::LiveCollection::check(opened.document, *records); !fits) {
            return fits;
        }
        pages = live_->takePaged();
    } else if (isPaged) {
        pages = makePages();
    }
    CollectionDocument inWindow = opened.document;
    inWindow.arrangement = deviceWindow(opened.document).arrangement;
    auto made = render::LiveCollection::create(
        inWindow, records, makePictures(), estimating_, std::move(pages),
        keepPages && live_ != nullptr ? live_->inForceFor(*records, inWindow) : std::nullopt);
    if (!made) {
        return std::move(made.error());
    }
    drop();
    dropBesides();
    // What is so of an item is so of it in another design, too.
    if (keepPages && live_ != nullptr && (*made)->hands().goOnFrom(live_->hands())) {
        Q_EMIT noticed(Notice::told(
            tr("What was selected of an order is selected no more: the records were read again.")));
    }
    live_ = std::move(*made);
    behaviour_ = behaviourOf(opened.document);
    design_ = opened.document.designText();
    locale_ = opened.document.locale;
    arrangement_ = inWindow.arrangement;
    asIf_ = opened.document.asIf;
    isStale_ = false;
    connect(live_.get(), &render::LiveCollection::frameWanted, &driver_, &render::FrameDriver::want);
    if (isPaged) {
        paged()->disconnect(this); // pages that stay
        connect(paged(), &render::PagedRecords::noticed, this, [this](const Error& error) {
            Q_EMIT noticed(Notice::told(QString::fromStdString(error.text())));
        });
    }
    handle(*live_);
    connect(live_.get(), &render::LiveCollection::orderChanged, this, &CollectionRunner::orderChanged);
    connect(live_.get(), &render::LiveCollection::orderFailed, this, [this](const Error& error) {
        Q_EMIT noticed(
            Notice::failed(tr("That cannot be done with these records, so they run as they were."), error));
    });
    connect(live_.get(), &render::LiveCollection::sectionsChanged, this, &CollectionRunner::sectionsChanged);
    connect(live_.get(), &render::LiveCollection::placesChanged, this, &CollectionRunner::sectionsChanged);
    connect(live_.get(), &render::LiveCollection::fieldsTaken, this, &CollectionRunner::changeBesides,
            Qt::QueuedConnection);
    applyWindow();
    makeBesides();
    applyMotion();
    applyEdits();
    Q_EMIT came(true);
    if (isPaged && isSeen_) {
        live_->startPages(driver_.nowUs());
    }
    makeFrame(driver_.nowUs());
    driver_.want();
    return done();
}

void CollectionRunner::drop() {
    Q_EMIT goes();
    staged_.reset();
    stagedState_.reset();
}

void CollectionRunner::stage(std::optional<TailState> state) {
    if (paged() == nullptr) {
        return;
    }
    drop();
    if (state) {
        CollectionDocument document = workspace_.document();
        document.arrangement = deviceWindow(document).arrangement;
        auto made = render::LiveCollection::createStaged(
            document, workspace_.records(), picturesOf(document, {nullptr, workspace_.opened().access, {}}),
            *state);
        if (made) {
            staged_ = std::move(*made);
            handle(*staged_);
            stagedState_ = state;
            connect(staged_.get(), &render::LiveCollection::frameWanted, &driver_,
                    &render::FrameDriver::want);
        }
    }
    applyWindow();
    Q_EMIT came(false);
    if (staged_ &&
        (*state == TailState::Loading || *state == TailState::Failed || *state == TailState::End)) {
        makeFrame(driver_.nowUs());
        staged_->run().key(KeyStep::ToEnd);
    }
    makeFrame(driver_.nowUs());
    driver_.want();
}

void CollectionRunner::refresh() {
    if (paged() != nullptr) {
        live_->refresh(driver_.nowUs());
        driver_.want();
    }
}

void CollectionRunner::retry() {
    if (paged() != nullptr) {
        live_->retryPages(driver_.nowUs());
        driver_.want();
    }
}

void CollectionRunner::showWaiting() {
    if (paged() != nullptr) {
        live_->showWaiting();
        driver_.want();
    }
}

void CollectionRunner::showRecord(std::int64_t place) {
    looked()->showRecord(place);
    driver_.want();
}

void CollectionRunner::showSection(std::int64_t section) {
    looked()->showSection(section);
    driver_.want();
}

void CollectionRunner::turnFold(std::int64_t section) {
    const auto* all = live_ == nullptr ? nullptr : looked()->sections();
    if (all == nullptr || section < 0 || section >= all->count()) {
        return;
    }
    const auto turned = all->at(section); // each window counts its own
    for (render::LiveCollection* window : windows()) {
        window->setFolded(window->sections()->ofPlace(turned.first).section, !turned.isFolded);
    }
    makeFrame(driver_.nowUs());
    driver_.want();
}

void CollectionRunner::foldAll(bool folded) {
    for (render::LiveCollection* window : windows()) {
        window->setAllFolded(folded);
    }
    makeFrame(driver_.nowUs());
    driver_.want();
}

void CollectionRunner::turnTo(std::int64_t leaf) {
    if (!staged_ && live_ != nullptr && live_->leaf().isOne()) {
        looked()->turnTo(leaf);
        makeFrame(driver_.nowUs());
        driver_.want();
    }
}

void CollectionRunner::setWeather(const render::Weather& weather) {
    weather_->set(weather);
    if (paged() != nullptr) {
        paged()->setWeather(weather);
        live_->retryPictures();
    }
    Q_EMIT weatherChanged();
}

std::optional<PageRunner::Pages> CollectionRunner::pages() const {
    if (paged() == nullptr) {
        return std::nullopt;
    }
    const Pager& pager = paged()->pager();
    return pager.total() || pager.endKnown() ? Pages{pager.total().value_or(live_->recordCount())}
                                             : Pages{std::nullopt};
}

std::vector<RecordAt> CollectionRunner::brought(std::size_t most) const {
    std::vector<RecordAt> here;
    for (const auto& [page, records] : paged()->pager().strip().loaded()) {
        for (const PageRecord& record : records) {
            here.push_back({record.table, record.row});
        }
        if (here.size() >= most) {
            break;
        }
    }
    return here;
}

std::vector<Field> CollectionRunner::fields() const {
    return paged()->fields();
}

/// What shows stays until the first page of the new query is here.
bool CollectionRunner::takesQuery() {
    if (!isSeen_ || paged() == nullptr) {
        return false;
    }
    live_->setVariables(driver_.nowUs(), workspace_.document().source.variables);
    Q_EMIT queryTaken();
    driver_.want();
    return true;
}

/// What runs follows what the document says.
void CollectionRunner::applyBehaviour() {
    const Behaviour behaviour = behaviourOf(workspace_.document());
    const Behaviour before = std::exchange(behaviour_, behaviour);
    if (behaviour.viewLead != before.viewLead) {
        live_->run().setViewLead(behaviour.viewLead);
    }
    if (behaviour.window.textScale != before.window.textScale) {
        live_->setTextScale(behaviour.window.textScale);
    }
    if (!(behaviour.paging == before.paging) && paged() != nullptr) {
        live_->setPaging(behaviour.paging);
    }
    if (behaviour.window.device != before.window.device ||
        behaviour.window.upright != before.window.upright ||
        behaviour.window.underBars != before.window.underBars) {
        applyWindow();
    }
    if (behaviour.window.beside != before.window.beside ||
        behaviour.window.together != before.window.together) {
        changeBesides();
    }
    // Pausing stops the clock, not what the user asks for: the change shows at once.
    makeFrame(driver_.nowUs());
    driver_.want();
}

void CollectionRunner::applyOrder() {
    for (render::LiveCollection* window : windows()) {
        window->setOrder(workspace_.document().order);
    }
    driver_.want();
}

/// As the document says, unless less motion is wanted.
void CollectionRunner::applyMotion() {
    for (render::LiveCollection* window : windows()) {
        window->setAnimation(isLessMotion_ ? AnimationSpec() : workspace_.document().animation);
    }
}

void CollectionRunner::setLessMotion(bool less) {
    isLessMotion_ = less;
    if (workspace_.isOpen()) {
        applyMotion();
    }
}

/// Once all records are here: edits are of any of them.
void CollectionRunner::applyEdits() {
    if (!workspace_.isOpen() || !isWhole_) {
        return;
    }
    for (render::LiveCollection* window : windows()) {
        window->setEdits(workspace_.document().edits);
    }
    driver_.want();
}

void CollectionRunner::applyWindow() {
    const DeviceWindow window = deviceWindow(workspace_.document());
    for (render::LiveCollection* live : {live_.get(), staged_.get()}) {
        if (live != nullptr) {
            live->setWindow(window.width, window.height);
        }
    }
    driver_.setFramePeriodUs(1'000'000 / device().hertz);
    Q_EMIT windowChanged();
}

void CollectionRunner::makeFrame(std::int64_t timeUs) {
    if (live_ == nullptr) {
        driver_.rest();
        return;
    }
    looked()->frame(timeUs);
    bool isIdle = looked()->isIdle();
    const std::vector<render::LiveCollection*> all =
        staged_ ? std::vector<render::LiveCollection*>() : windows();
    for (render::LiveCollection* window : all) {
        if (window != looked()) {
            follow(*window);
            window->frame(timeUs);
            isIdle = isIdle && window->isIdle();
        }
    }
    led_ = looked()->run().hold();
    ledLeaf_ = looked()->leaf().first;
    if (isIdle) {
        driver_.rest();
    }
    Q_EMIT framed();
}

std::vector<render::LiveCollection*> CollectionRunner::windows() const {
    std::vector<render::LiveCollection*> all;
    if (live_ != nullptr) {
        all.push_back(live_.get());
    }
    std::ranges::transform(besides_, std::back_inserter(all),
                           [](const auto& beside) { return beside.get(); });
    return all;
}

void CollectionRunner::setLead(int window) {
    if (window == lead_ || window < 0 || window > static_cast<int>(besides_.size())) {
        return;
    }
    if (!looked()->run().motion().isPressed()) {
        looked()->run().motion().stop();
    }
    lead_ = window;
    live_->setLeading(looked());
    led_ = looked()->run().hold();
    ledLeaf_ = looked()->leaf().first;
    Q_EMIT windowsChanged();
}

/// Stands where the one that leads does, if that moved since it last did.
void CollectionRunner::follow(render::LiveCollection& window) {
    const HoldPoint& hold = looked()->run().hold();
    const Leaf& leaf = looked()->leaf();
    if (!workspace_.document().window.together || (hold == led_ && leaf.first == ledLeaf_)) {
        return;
    }
    if (leaf.isOne() && window.leaf().first != leaf.first) {
        window.turnTo(leaf.number());
    }
    const bool isBeyond = hold.onScreen >= window.run().window(); // it is the smaller one
    window.run().standWith(looked()->run(), isBeyond ? window.run().window() / 2 : hold.onScreen);
}

void CollectionRunner::dropBesides() {
    if (live_ != nullptr) {
        live_->setBeside({}, true);
    }
    lead_ = 0;
    besides_.clear();
    besideSpecs_.clear();
}

/// The windows that the document asks for beside the first; one whose locale or size its designs do not fit is
/// left out.
void CollectionRunner::makeBesides() {
    dropBesides();
    const CollectionDocument& document = workspace_.document();
    std::vector<render::LiveCollection*> followers;
    const std::shared_ptr<const render::PictureSource> pictures =
        document.window.beside.empty() ? nullptr : makePictures();
    for (const BesideSpec& spec : document.window.beside) {
        const DeviceWindow window = deviceWindow(spec, document.arrangement);
        CollectionDocument in = document;
        in.arrangement = window.arrangement;
        in.window.textScale = spec.textScale;
        in.locale = spec.locale.empty() ? document.locale : spec.locale;
        auto made = live_->makeBeside(in, pictures);
        if (!made) {
            Q_EMIT noticed(Notice::failed(tr("A window beside this one cannot be shown."), made.error()));
            continue;
        }
        (*made)->setWindow(window.width, window.height);
        handle(**made);
        connect(made->get(), &render::LiveCollection::frameWanted, &driver_, &render::FrameDriver::want);
        connect(made->get(), &render::LiveCollection::orderChanged, this, &CollectionRunner::orderChanged);
        if (live_->leaf().isOne()) {
            (*made)->turnTo(live_->leaf().number());
        }
        (*made)->run().standWith(live_->run(), live_->run().hold().onScreen);
        followers.push_back(made->get());
        besides_.push_back(std::move(*made));
        besideSpecs_.push_back(spec);
    }
    live_->setBeside(followers, document.window.together);
}

void CollectionRunner::changeBesides() {
    if (live_ == nullptr || (besides_.empty() && workspace_.document().window.beside.empty())) {
        return;
    }
    Q_EMIT goes();
    makeBesides();
    applyMotion();
    applyEdits();
    Q_EMIT windowsChanged();
    driver_.want();
}

void CollectionRunner::turn() {
    if (workspace_.isOpen()) {
        CollectionDocument to = workspace_.document();
        to.window.upright = !to.window.upright;
        workspace_.change(tr("turn"), std::move(to));
    }
}

void CollectionRunner::resizeWindow(double width, double height) {
    shown()->setWindow(width, height);
}

void CollectionRunner::scaleText(double scale) {
    CollectionDocument to = workspace_.document();
    to.window.textScale = scale;
    workspace_.change(tr("text size"), std::move(to));
}

/// Which records stand where is the service's to say when it is read in pages.
void CollectionRunner::insertRecords(std::int64_t place, std::int64_t firstRecord, std::int64_t count) {
    if (paged() == nullptr) {
        for (render::LiveCollection* window : windows()) {
            window->insertRecords(place, firstRecord, count);
        }
    }
}

void CollectionRunner::removeRecords(std::int64_t place, std::int64_t count) {
    if (paged() == nullptr) {
        for (render::LiveCollection* window : windows()) {
            window->eraseRecords(place, count);
        }
    }
}

void CollectionRunner::orderRecords(const OrderSpec& order) {
    CollectionDocument to = workspace_.document();
    to.order = order;
    workspace_.change(tr("order"), std::move(to));
}

void CollectionRunner::editRecord(const RecordEdit& edit) {
    CollectionDocument to = workspace_.document();
    to.edits = withEdit(std::move(to.edits), edit);
    workspace_.change(editInWords(edit), std::move(to));
}

} // namespace scorrere::workbench

#include "moc_collection_runner.cpp"
