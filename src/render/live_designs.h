// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/document/collection_document.h"
#include "engine/page/page_records.h"
#include "render/text_block.h"

#include <array>
#include <memory>
#include <vector>

namespace scorrere::render {

/// Views of a document's own kinds are numbered from here.
inline constexpr int kFirstOwnKind = Arrangement::kRoles;

/// The designs of a document compiled against the records' fields: record, header, footer, those of a section's, a table's heading,
/// then its kinds; with states also what placeholders are shaped like, and one design for each TailState.
struct Compiled {
    std::vector<ItemDesign> designs;
    KindChooser kinds;
    std::optional<SectionChooser> sections; ///< of a document that has them, once fields are known
    std::optional<ItemDesign> detail;       ///< of a document that has one
    std::optional<TextPattern> jumpName;    ///< what a jump list calls them, where it has names of its own
    std::optional<PlaceReader> places;      ///< of a document whose items are placed, once fields are known
};
/// Errors: the first design or rule that does not fit the fields, located in the document.
Result<Compiled> compileDesigns(const CollectionDocument& document, const RecordTable& records,
                                bool withStates);

/// What a table's designs lack to stand in columns, located; nothing where nothing does, or it is no table.
std::optional<Error> tableProblem(const CollectionDocument& document);

/// What the header or footer of a section can say, as one record: section and count.
RecordTable sectionRecord(const std::string& section, std::int64_t count);

/// What a state's texts can say, as one record: noun, message, advice, count.
RecordTable stateRecord(const CollectionDocument& document, const PageFailure& failure, std::int64_t count);

/// The designs of a collection that runs, each with its fonts at the present text scale, by kind of view.
///
/// Ownership   Views refer to the designs and fonts: a design stays at its address when another is put there.
/// Threads     The interface thread.
class LiveDesigns {
public:
    struct Design {
        ItemDesign design;
        FontSet fonts;
    };

    LiveDesigns(Compiled compiled, bool withStates, double textScale);
    /// Puts designs of the same document, compiled against other fields, in the place of these. Views must be
    /// built again.
    void put(Compiled compiled);
    void setTextScale(double scale);
    double textScale() const { return textScale_; }

    const Design& of(int kind) const { return *designs_[static_cast<std::size_t>(kind)]; }
    bool hasStates() const { return withStates_; }
    /// Of a record at length; null: there is none.
    const Design* detail() const { return detail_.get(); }
    /// Those of a table's items stand in these, as wide as nobody knows yet.
    TableColumns columns() const;
    /// Whether items have strips within them.
    bool haveStrips() const { return haveStrips_; }
    /// The kind of view a record needs.
    int kindOf(const FillContext& record) const;
    int placeholderKind() const { return static_cast<int>(designs_.size() - 1 - kTailStates); }
    int stateKind(TailState state) const {
        return static_cast<int>(designs_.size() - kTailStates + static_cast<std::size_t>(state));
    }
    /// Null: there are no sections, or no field is known.
    const SectionChooser* sections() const { return sections_ ? &*sections_ : nullptr; }
    /// Null: items are not placed, or no field is known.
    PlaceReader* places() { return places_ ? &*places_ : nullptr; }
    const TextPattern* jumpName() const { return jumpName_ ? &*jumpName_ : nullptr; }
    /// Of items' state, what any of them asks for.
    ItemState readState() const { return readState_; }
    bool readParameters() const { return any(&ItemDesign::readsParameters); }
    /// Whether other values of parameters may change extents.
    bool parametersMoveParts() const;
    /// Before anything is known: how high an item of each kind is with two lines for a text of any length.
    /// `across`: of the document's kinds, one that has all columns; -1: none.
    Arrangement::Estimates firstEstimates(const FillContext& nothing, int across) const;

private:
    bool any(bool (ItemDesign::*asks)() const) const;
    void putDetail(std::optional<ItemDesign> design);
    void makeFonts();

    std::vector<std::unique_ptr<Design>> designs_; ///< as in Compiled
    std::unique_ptr<Design> detail_;
    KindChooser kinds_;
    std::optional<SectionChooser> sections_;
    std::optional<TextPattern> jumpName_;
    std::optional<PlaceReader> places_;
    bool withStates_;
    bool haveStrips_ = false;
    ItemState readState_;
    double textScale_;
};

} // namespace scorrere::render
