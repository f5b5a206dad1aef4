// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/design/kinds.h"
#include "render/item_view.h"
#include "render/still_strip.h"
#include "workbench/model/hard_records.h"

#include <QRectF>
#include <QString>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace scorrere::workbench {

class BoardTable;

/// One width, text scale and density that the design is looked at in.
struct BoardSetting {
    double width = 360;
    double textScale = 1;
    double density = 1;
    bool operator==(const BoardSetting&) const = default;
};

/// A record filled into the design in one setting.
struct Specimen {
    std::int64_t record = -1;
    int entry = -1; ///< of the record's list, where entries of a strip are looked at
    std::vector<Extreme> why;
    std::int64_t measure = 0;
    bool isPinned = false;
    std::size_t setting = 0;
    std::unique_ptr<render::ItemView> view;
    std::vector<std::unique_ptr<render::StillStrip>>
        strips; ///< by number in the design; null: it does not show
    std::vector<LayoutFault> faults;
    QRectF at; ///< on the board, px of the item
};

/// The specimens of one design: filled, measured, ready to be painted. Knows nothing of where it is shown.
///
/// A design that does not compile leaves the last good one standing.
///
/// Complexity  setDesign: one compilation and one fill a specimen; texts that were shaped before are not shaped
///             again.
/// Threads     The interface thread.
/// Errors      setDesign: as ItemDesign::compile, located in the document.
class BoardModel {
public:
    BoardModel();
    ~BoardModel();

    void setRecords(std::shared_ptr<const RecordTable> records);
    Outcome setDesign(const CollectionDocument& document, int which);
    void setSettings(std::vector<BoardSetting> settings);
    /// The records to show, in each setting.
    void setHard(const std::vector<HardRecord>& hard, const std::vector<std::int64_t>& pinned);
    void setPictures(std::shared_ptr<render::PictureCache> pictures) { pictures_ = std::move(pictures); }
    /// From short to tall in each setting. Changes of the design leave each specimen in its place.
    void sortByHeight();
    bool isSorted() const;
    /// Shows specimens as if that were so of their items.
    void setState(ItemState state);
    /// Fills all again, as after a parameter or a picture's shape changed.
    void refill();

    bool isEmpty() const { return specimens_.empty() || design_ == nullptr; }
    const ItemDesign* design() const { return design_.get(); }
    const CollectionDocument& document() const { return document_; }
    const RecordTable* records() const { return records_.get(); }
    const std::vector<BoardSetting>& settings() const { return settings_; }
    std::vector<Specimen>& specimens() { return specimens_; }
    const std::vector<Specimen>& specimens() const { return specimens_; }
    FillContext context(const Specimen& specimen) const;
    /// Paints what stands within a specimen, over it: at its top left corner, in px of the item.
    void paintWithin(QPainter& painter, const Specimen& specimen,
                     const render::ItemView::PaintNeeds& needs) const;
    /// Specimens are sections: see sectionSpecimens.
    bool areSections() const { return sections_ != nullptr; }
    /// Null: what is looked at does not stand in a table's columns.
    BoardTable* columnsOfTable() const { return table_.get(); }
    /// What the specimens are filled from.
    const RecordTable& table() const { return sections_ ? *sections_ : *records_; }

    /// Plan parts made of a part of the document.
    std::vector<int> partsOf(const std::string& pointer) const;
    /// On how many specimens a part shows.
    int shownOn(const std::string& pointer) const;
    /// What the part says on the specimens, each different outcome once, the first ones.
    std::vector<std::string> outcomes(const std::string& pointer, std::size_t most) const;
    std::int64_t shapedEver() const;

private:
    void rebuild();
    void keepPlaces();
    void makeStripFonts();
    std::vector<Specimen> someEntries();
    void standInColumns();
    void fill(Specimen& specimen);

    CollectionDocument document_;
    int which_ = kRecordDesign;
    std::int64_t nowMs_ = 0;
    ItemState state_;
    std::shared_ptr<const RecordTable> records_;
    std::unique_ptr<const RecordTable>
        sections_; ///< while a section's header or footer is looked at: what they say
    std::unique_ptr<ItemDesign> design_;
    std::unique_ptr<BoardTable> table_;
    std::vector<BoardSetting> settings_{BoardSetting{}};
    std::vector<std::unique_ptr<render::FontSet>> fonts_; ///< by setting
    render::TextCache texts_;
    std::vector<std::vector<std::unique_ptr<render::FontSet>>>
        stripFonts_; ///< by setting, and strip of the design
    render::TextCache stripTexts_;
    std::map<std::int64_t, EntryList> entries_; ///< by record, of those that are looked at entry by entry
    std::vector<HardRecord> hard_;
    std::vector<std::int64_t> pinned_;
    std::vector<Specimen> specimens_;
    std::vector<std::int64_t> places_; ///< records in the order their specimens stand in, and stood before
    std::shared_ptr<render::PictureCache> pictures_;
};

/// Why a record is on the board, in words: "tallest", "most traits, 11 of them".
QString reasonInWords(Extreme why, std::int64_t measure);
QString faultInWords(const LayoutFault& fault, const ItemDesign& design);

} // namespace scorrere::workbench
