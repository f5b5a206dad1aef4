// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/document/source_spec.h"
#include "render/weather.h"
#include "workbench/model/behaviour.h"
#include "workbench/ui/look/arrangement_words.h"
#include "workbench/ui/look/demos.h"
#include "workbench/ui/look/order_words.h"
#include "workbench/ui/look/sentence_bar.h"

namespace scorrere::workbench {

/// What the sentence of Flow is about.
struct FlowSaid {
    Behaviour behaviour;
    SourceSpec source;
    QString count; ///< "20,000 sightings"
    bool isDemo = false;
    std::vector<Field> allFields;
    std::vector<FieldValues> values; ///< of fields that have few
    render::Weather weather;
    QStringList kinds;                     ///< of items, by their names
    std::vector<SectionField> fields;      ///< that records may be put in sections by
    std::vector<SectionField> placeFields; ///< that may say where an item stands
};

/// The head of Flow: one sentence that says what runs, in what, and how its pages come.
class FlowSentence : public SentenceBar {
    Q_OBJECT
public:
    using SentenceBar::SentenceBar;
    void say(const FlowSaid& said);

Q_SIGNALS:
    /// `what` names the change for undo.
    /// `merge`: steps with the same one in a row are one; empty: by itself.
    void behaviourWanted(const QString& what, const scorrere::workbench::Behaviour& behaviour,
                         const QString& merge);
    void sourceWanted(const QString& what, const scorrere::SourceSpec& source);
    void demoWanted(qint64 count);
    void weatherWanted(const scorrere::render::Weather& weather);
    /// The card that shows each arrangement with the records there are, below that word.
    void arrangementCardWanted(QWidget* word);
    /// The card that sets the weather in numbers, below that word.
    void weatherCardWanted(QWidget* word);

private:
    using Change = std::function<void(Behaviour&, const QString& word)>;
    SentenceWord* add(const char* name, const QString& what, const QStringList& choices,
                      const QString& undoText, const Change& change);
    void write();
    void writeAsIf();
    void writeOrder();
    void writeArrangement();
    void writeAxis();
    void writeCells();
    void writeSpans();
    void writeSections();
    void writeStay();
    void writeGaps();
    void writePager();
    void writePlaced();
    void writeTable();
    bool isPlacedByTime(const PlacedBy& by) const;
    void writeBeside();
    void writeHands();
    void addTap(const char* name, const QString& what, const QString& change,
                std::string HandsSpec::*gesture);
    void tellHands();
    void put(const char* name, const QString& word);
    void writePages();
    void tell();

    FlowSaid said_;
    bool isWritten_ = false;
    bool isPaged_ = false;
    bool hasStream_ = false;
    /// What decides which words of the arrangement stand there.
    struct Formed {
        std::size_t form = 0; ///< as the arrangement's variant has them
        bool isSideways = false;
        bool hasSpans = false; ///< of kinds of a grid
        bool takesSections = false;
        bool hasSections = false;
        std::string placedBy; ///< the field of starts
        bool operator==(const Formed&) const = default;
    };
    static Formed formedBy(const ArrangementSpec& arrangement);
    /// The words of an arrangement, by the names of their controls.
    std::vector<std::pair<const char*, QString>> saidOf(const ArrangementSpec& arrangement) const;
    Formed formed_;
    bool hasHands_ = false;  ///< they do something
    bool hasBeside_ = false; ///< windows beside the first
    bool hasBars_ = false;   ///< the device, as it is held
    bool hasAsIf_ = false;   ///< its records are one's own, and all here
    bool isPositional_ = false;
    QStringList kinds_;
    std::vector<Field> allFields_;
    std::vector<SectionField> fields_;
    std::vector<SectionField> placeFields_;
    QHash<QString, SentenceWord*> words_;
};

/// How far ahead pages are asked for, "1.5 screens", and what of it is not as usual: "2 screens and 900 ms, 6
/// at once". False: the words say no such thing, and `paging` stays as it was.
QString pageLeadInWords(const PagingSpec& paging);
bool pageLeadFromWords(const QString& words, PagingSpec& paging);
/// Where it opens: "the start", "record 5,000". Records are counted from 1 where people read.
QString startInWords(std::int64_t startAt);
std::optional<std::int64_t> startFromWords(const QString& words);

/// "clear weather", "300 ms, 5% lost", and back from such words.
QString weatherInWords(const render::Weather& weather);
std::optional<render::Weather> weatherFromWords(const QString& words);

} // namespace scorrere::workbench
