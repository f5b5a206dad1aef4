// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/workspace.h"

#include "render/live_collection.h"
#include "workbench/model/keeper.h"
#include "workbench/model/opening.h"

#include <QUndoCommand>

namespace scorrere::workbench {

namespace {

constexpr std::size_t kMostBrought = 20'000; ///< records of pages that are looked at as a collection

/// A document with some sections of another state of it; the rest is as it is now. What is in no step, as a
/// design that follows the fields, goes on by itself.
CollectionDocument carried(Sections what, const CollectionDocument& state, const CollectionDocument& now) {
    CollectionDocument from = state;
    from.keepAs(now);
    CollectionDocument next = what.testFlag(Section::Design) ? from : now;
    const auto of = [&](Section section) -> const CollectionDocument& {
        return what.testFlag(section) ? from : now;
    };
    next.source = of(Section::Source).source;
    next.noun = of(Section::Noun).noun;
    next.board = of(Section::Board).board;
    next.window = of(Section::Window).window;
    next.viewLead = of(Section::Lead).viewLead;
    next.paging = of(Section::Paging).paging;
    next.arrangement = of(Section::Arrangement).arrangement;
    next.asIf = of(Section::AsIf).asIf;
    next.order = of(Section::Order).order;
    next.animation = of(Section::Motion).animation;
    next.hands = of(Section::Hands).hands;
    next.actions = of(Section::Hands).actions;
    next.edits = of(Section::Edits).edits;
    next.areEditsKept = of(Section::Edits).areEditsKept;
    next.send = of(Section::Edits).send;
    return next;
}

/// One change of the document. Typing a text is one change, however many keys it took.
class DocumentStep final : public QUndoCommand {
public:
    DocumentStep(Workspace& workspace, const QString& what, CollectionDocument to, QString merge)
        : QUndoCommand(what), workspace_(workspace),
          from_(std::make_shared<const CollectionDocument>(workspace.document())),
          to_(std::make_shared<const CollectionDocument>(std::move(to))),
          sections_(differences(*from_, *to_)), wasPlain_(workspace.opened().isPlain),
          merge_(std::move(merge)) {}
    void undo() override { workspace_.apply(carried(sections_, *from_, workspace_.document()), wasPlain_); }
    void redo() override { workspace_.apply(carried(sections_, *to_, workspace_.document())); }
    int id() const override { return 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const DocumentStep*>(other);
        if (merge_.isEmpty() || merge_ != next->merge_) {
            return false;
        }
        to_ = next->to_;
        sections_ |= next->sections_;
        return true;
    }

private:
    Workspace& workspace_;
    std::shared_ptr<const CollectionDocument> from_;
    std::shared_ptr<const CollectionDocument> to_;
    Sections sections_; ///< that it changes
    bool wasPlain_;     ///< nobody had written a design yet
    QString merge_;
};

} // namespace

Sections differences(const CollectionDocument& a, const CollectionDocument& b) {
    Sections what;
    what.setFlag(Section::Source, !(a.source == b.source));
    what.setFlag(Section::Noun, a.noun != b.noun);
    what.setFlag(Section::Design, a.designText() != b.designText() || a.locale != b.locale);
    what.setFlag(Section::Board, !(a.board == b.board));
    what.setFlag(Section::Window, !(a.window == b.window));
    what.setFlag(Section::Arrangement, a.arrangement != b.arrangement);
    what.setFlag(Section::AsIf, a.asIf != b.asIf);
    what.setFlag(Section::Order, !(a.order == b.order));
    what.setFlag(Section::Motion, !(a.animation == b.animation));
    what.setFlag(Section::Hands, !(a.hands == b.hands) || a.actions != b.actions);
    what.setFlag(Section::Edits,
                 !areSame(a.edits, b.edits) || a.areEditsKept != b.areEditsKept || !(a.send == b.send));
    what.setFlag(Section::Lead, a.viewLead != b.viewLead);
    what.setFlag(Section::Paging, !(a.paging == b.paging));
    what.setFlag(Section::Place, a.path != b.path);
    return what;
}

bool mustRead(SourceSpec from, SourceSpec to) {
    for (SourceSpec* spec : {&from, &to}) {
        spec->key.clear();
        for (FieldChoice& choice : spec->reading.fields) {
            choice.title.clear();
        }
        std::erase_if(spec->reading.fields, std::mem_fn(&FieldChoice::isEmpty));
    }
    return !(from == to);
}

bool onlyVariablesDiffer(SourceSpec from, const SourceSpec& to) {
    const bool differ = from.variables != to.variables;
    from.variables = to.variables;
    return differ && from == to;
}

Workspace::Workspace(WorkspaceNeeds needs)
    : secrets_(std::move(needs.secrets)), trust_(*needs.settings),
      keeper_(std::make_unique<Keeper>(*this, needs.journalFolder, std::move(needs.askWhereToSave))),
      opening_(std::make_unique<Opening>(*this, trust_)) {
    connect(&undo_, &QUndoStack::indexChanged, this, [this] {
        ++changes_;
        keeper_->journal();
    });
    connect(&undo_, &QUndoStack::cleanChanged, this, &Workspace::stateChanged);
}

Workspace::~Workspace() {
    undo_.disconnect(this); // it tells of its own end, when nobody is there to hear it
    opening_.reset();
    render::disposeElsewhere(std::move(opened_));
    render::disposeElsewhere(std::move(demo_)); // its server's threads are joined
}

bool Workspace::isList() const {
    return opened_ && !document().source.isDemo && document().source.file.empty() &&
           !document().source.isService();
}

std::optional<qint64> Workspace::knownCount() const {
    if (const auto pages = runner_ != nullptr ? runner_->pages() : std::nullopt) {
        return pages->count;
    }
    return records()->size();
}

bool Workspace::hasUnsaved() const {
    const bool isTyped = isList() && document().path.empty() && !document().source.list.empty() &&
                         document().source.list != sampleList().toStdString();
    return opened_ && (!undo_.isClean() || isTyped);
}

SourceNeeds Workspace::sourceNeeds() const {
    SourceNeeds needs;
    needs.folder = opened_ ? document().folder() : std::string();
    if (const auto server = demo_->server()) {
        needs.knownDemoAddress = server->address();
    }
    return needs;
}

void Workspace::change(const QString& what, CollectionDocument to, const QString& merge) {
    if (opened_ && differences(document(), to)) {
        undo_.push(new DocumentStep(*this, what, std::move(to), merge));
    }
}

void Workspace::changeSource(const QString& what, const SourceSpec& source) {
    if (!opened_) {
        return;
    }
    const SourceSpec& before = document().source;
    CollectionDocument next = document();
    SourceSpec& to = next.source;
    to = source;
    const bool leaves = before.isService() && originOf(before) != originOf(to);
    if (leaves && to.sign == before.sign && to.sign.kind != SignSpec::Kind::None) {
        to.sign = {};
        Q_EMIT noticed(
            Notice::told(tr("The new address is another service's: it is not told %1. Choose who asks after "
                            "\"signed\".")
                             .arg(QString::fromStdString(before.sign.secret))));
    }
    if (leaves && to.headers == before.headers) {
        to.headers.clear();
    }
    if (leaves && to.stream == before.stream) {
        to.stream = {};
    }
    if (to.isService() && (leaves || to.address != before.address)) { // whoever types an address means it
        opened_->allowed.push_back({Reach::Kind::Host, originOf(to), {}});
    }
    change(what, std::move(next),
           onlyVariablesDiffer(before, to) ? QStringLiteral("variables ") + what : QString());
}

void Workspace::changeDesign(const QString& what, const QString& text, const QString& merge) {
    if (!opened_ || text.toStdString() == document().designText()) {
        return;
    }
    auto made = document().withDesign(text.toStdString());
    if (!made) {
        Q_EMIT noticed(Notice::failed(tr("The design was not changed."), made.error()));
        return;
    }
    change(what, std::move(*made), merge);
}

void Workspace::apply(const CollectionDocument& to, bool isPlain) {
    CollectionDocument next = to;
    next.keepAs(document()); // where it is kept is nothing that can be undone
    const CollectionDocument before = std::exchange(opened_->document, std::move(next));
    const Sections what = differences(before, document());
    opened_->isPlain =
        isPlain || (opened_->isPlain && !what.testFlag(Section::Design)); // else somebody wrote it
    Q_EMIT changed(what);
    Q_EMIT stateChanged();
    if (!what.testFlag(Section::Source)) {
        return;
    }
    const bool isQuery = onlyVariablesDiffer(before.source, document().source);
    if (isQuery && runner_ != nullptr && runner_->takesQuery()) {
        return;
    }
    if (mustRead(before.source, document().source)) {
        opening_->readAgain();
    } else if (before.source.key != document().source.key) {
        opening_->examine();
    }
}

void Workspace::showState(const std::string& text) {
    auto state = CollectionDocument::parse(text, document().path);
    if (state && text != document().stateText()) {
        apply(*state);
    }
}

Outcome Workspace::replace(const Opened& opened) {
    if (Outcome fits = render::LiveCollection::check(opened.document, *opened.records); !fits) {
        return fits;
    }
    gathering_.cancel();
    if (opened_) {
        render::disposeElsewhere(std::move(opened_));
    }
    opened_ = std::make_unique<Opened>(opened);
    keeper_->forget();
    undo_.clear();
    undo_.setClean();
    keeper_->journal();
    Q_EMIT replaced(false);
    Q_EMIT stateChanged();
    return done();
}

Outcome Workspace::readAnew(const std::shared_ptr<Opened>& opened) {
    // The document goes on as it is now, whatever it was when reading began; only a design that nobody wrote
    // follows the fields.
    CollectionDocument now = document();
    if (opened_->isPlain) {
        if (auto follows = now.withDesign(opened->document.designText())) {
            now = std::move(*follows);
        }
    }
    if (Outcome fits = render::LiveCollection::check(now, *opened->records); !fits) {
        return fits;
    }
    opened->document = std::move(now);
    opened->isPlain = opened_->isPlain;
    gathering_.cancel();
    render::disposeElsewhere(std::exchange(opened_, std::make_unique<Opened>(*opened)));
    Q_EMIT replaced(true);
    Q_EMIT stateChanged();
    return done();
}

void Workspace::grow(const std::shared_ptr<const RecordTable>& records, bool last) {
    if (!opened_ || records->size() < this->records()->size()) {
        return;
    }
    render::disposeElsewhere(std::exchange(opened_->records, records));
    Q_EMIT grew(last);
    Q_EMIT stateChanged();
}

void Workspace::gather() {
    if (!opened_ || runner_ == nullptr || !runner_->pages()) {
        return;
    }
    std::vector<RecordAt> here = runner_->brought(kMostBrought);
    if (here.empty()) {
        return;
    }
    gathering_.start(
        [here = std::move(here), fields = runner_->fields()](std::stop_token, const render::Job::Post&) {
            return std::make_shared<const RecordTable>(gathered(here, fields));
        },
        [this](const std::shared_ptr<const RecordTable>& records) {
            render::disposeElsewhere(std::exchange(opened_->records, records));
            Q_EMIT grew(true);
        });
}

void Workspace::keptAs(const CollectionDocument& saved, bool isAsItWas) {
    opened_->document.keepAs(saved);
    trust_.wrote(document(), opened_->isOwn, opened_->allowed);
    if (isAsItWas) {
        undo_.setClean();
    }
    Q_EMIT changed(Section::Place);
    Q_EMIT stateChanged();
    keeper_->journal();
}

void Workspace::askReach() {
    if (!opened_) {
        return;
    }
    opened_->missing = trust_.missing(document(), opened_->isOwn, opened_->allowed);
    if (opened_->missing.empty()) {
        return;
    }
    QStringList lines;
    for (const Reach& one : opened_->missing) {
        lines << one.words();
    }
    const QString text =
        opened_->isOwn
            ? tr("This secret was given for another service. May it be used here?")
            : tr("%1 came from elsewhere. It asks %2. Its design and the records in its folder run; the rest "
                 "waits for you.")
                  .arg(QString::fromStdString(document().name), reachInWords(opened_->missing));
    ask({QStringLiteral("reach"),
         text,
         lines,
         {{QStringLiteral("allow"), tr("&Allow what is chosen")},
          {QStringLiteral("not"), tr("Not now  Esc")}},
         [this, missing = opened_->missing](const QString& choice, const QList<int>& chosen) {
             if (choice != QLatin1String("allow") || chosen.isEmpty() || !opened_) {
                 return;
             }
             std::vector<Reach> allowed;
             for (const int line : chosen) {
                 allowed.push_back(missing[static_cast<std::size_t>(line)]);
             }
             trust_.allow(document(), allowed);
             std::ranges::move(allowed, std::back_inserter(opened_->allowed));
             opening_->readAgain();
         }});
}

} // namespace scorrere::workbench

#include "moc_workspace.cpp"
