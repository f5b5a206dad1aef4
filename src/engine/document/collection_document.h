// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "engine/arrange/arrangement_spec.h"
#include "engine/base/result.h"
#include "engine/design/kinds.h"
#include "engine/document/hands_spec.h"
#include "engine/document/paging_spec.h"
#include "engine/document/safe_file.h"
#include "engine/document/send_spec.h"
#include "engine/document/source_spec.h"
#include "engine/edit/record_edit.h"
#include "engine/order/order_spec.h"
#include "engine/run/animation.h"

#include <array>
#include <map>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <vector>

namespace scorrere {

/// A device, as it is held and set.
struct DeviceSpec {
    std::string device = "tall handset";
    bool upright = true;
    bool underBars = false; ///< the strip passes under the device's bars instead of stopping at them
    double textScale = 1;
    bool operator==(const DeviceSpec&) const = default;
};

/// Another window on the same collection, beside the first.
struct BesideSpec : DeviceSpec {
    std::string look;   ///< "light" or "dark"; empty: as all else
    std::string locale; ///< BCP 47; empty: the collection's
    bool operator==(const BesideSpec&) const = default;
};

/// What the collection is shown in.
struct WindowSpec : DeviceSpec {
    static constexpr std::size_t kMostBeside = 3;
    std::vector<BesideSpec> beside;
    bool together = true; ///< all stand at the same record; else each is scrolled by itself
    bool operator==(const WindowSpec&) const = default;
};

/// Limits that a run is held to; 0: none.
struct Budgets {
    double medianMs = 0;
    double p99Ms = 0;
    std::int64_t built = 0;
};

/// How the extremes board shows a design.
struct BoardSpec {
    std::vector<double> widths;       ///< px; none: the window's
    std::vector<double> textScales;   ///< none: the window's
    std::vector<double> densities{1}; ///< device px to a px
    std::vector<std::int64_t> pinned; ///< records looked at in any case, from 0
    int hardest = 0;                  ///< so many of those that are found; 0: all
    bool operator==(const BoardSpec&) const = default;
};

/// The design of a section's header where none is given, as JSON.
const char* usualSectionHeader();
/// The same of a table's heading: above each cell of an item what its field is called.
std::string usualHeading(const PartSpec& item);

/// The collection file, read and checked.
///
/// Ownership   A value. Keeps the JSON it was read from, so that members it does not know survive a save.
/// Threads     Immutable parts may be read from any thread; a value as usual.
/// Errors      parse: Syntax with line and column; Version; Invalid and NotFound with the JSON Pointer, line
///             and column of the member.
struct CollectionDocument {
    static constexpr int kVersion = 1;
    static constexpr std::int64_t kMostAsIf = 10'000'000;
    static constexpr int kMostMotionMs = 10'000;
    static AnimationSpec usualAnimation() { return {250, 250, 250, 250, "ease-in-out", 60}; }

    std::string name;
    std::string noun = "records"; ///< what its records are called, plural
    std::string locale = "en";
    SourceSpec source;
    PartSpec item; ///< of records that no kind takes
    std::optional<PartSpec> header;
    std::optional<PartSpec> footer;
    std::optional<PartSpec> detail; ///< of a record at length, opened from its item
    PartSpec sectionHeader;         ///< the usual one where none is given
    bool isSectionHeaderUsual = true;
    std::optional<PartSpec> sectionFooter;
    PartSpec heading; ///< of a table; the usual one where none is given
    bool isHeadingUsual = true;
    std::vector<KindSpec> kinds;
    /// How the strips within items are arranged, by the JSON Pointer of the part.
    std::map<std::string, ArrangementSpec> strips;
    Pieces pieces;
    Parameters parameters;
    std::string now; ///< what relative times are relative to, ISO 8601; empty: the present
    /// What stands for what is not there: the row at the end, and an empty or failed collection. By state;
    /// null where nothing shows.
    std::array<std::shared_ptr<const PartSpec>, kTailStates> states;
    PagingSpec paging;
    ArrangementSpec arrangement; ///< what stands before and behind the records is told by `header`, `footer`
    OrderSpec order;             ///< of records that are all here
    RecordEdits edits;           ///< what is otherwise than the source has it
    bool areEditsKept = false;   ///< in the file; else they are as long as it is open
    SendSpec send;               ///< how a service is told of them
    HandsSpec hands;             ///< what gestures do
    Actions actions;             ///< by the names that gestures and parts use
    WindowSpec window;
    BoardSpec board;
    double viewLead = 0.5; ///< windows
    AnimationSpec animation = usualAnimation();
    /// As if there were so many records, made up of those there are: see RecordTable::asIf.
    std::optional<std::int64_t> asIf;
    std::int64_t pictureBudgetMiB = 64;
    Budgets budgets;

    std::string path;                 ///< where it was read from; empty: nowhere yet
    std::vector<std::string> notices; ///< members this version does not know; they are kept

    static Result<CollectionDocument> parse(std::string text, const std::string& path);
    static Result<CollectionDocument> load(const std::string& path);
    /// The file's text with the present source, paging, window and lead in it and everything else as it was
    /// read.
    std::string serialise() const;
    /// The same with everything that can be undone in it, also what is not kept in the file: for a journal.
    std::string stateText() const;
    /// Writes it there (writeFileSafely) and gives it as it is then, under that path.
    /// Errors: Changed when another program wrote its own file since it was read, unless `overTheirs`.
    Result<CollectionDocument> savedAs(const std::string& path, bool overTheirs = false) const;
    /// Is kept where `other`, an earlier or later state of it, is: relative paths are rewritten.
    void keepAs(const CollectionDocument& other);
    /// The path of the file of records, as a collection file at `path` has to say it.
    std::string sourceFileFrom(const std::string& path) const;
    /// The parameters, pieces and items as JSON, for an editor.
    std::string designText() const;
    /// This document with another design: JSON as designText() gives it. Everything else stays.
    /// Errors: as parse, with line and column in `text`.
    Result<CollectionDocument> withDesign(std::string text) const;
    /// What its designs are compiled against, beside the records.
    DesignScope scope(const RecordTable& records) const { return {records, locale, &parameters, &pieces}; }
    /// Completes an error that knows a JSON Pointer with the file, line and column.
    Error located(Error error) const;
    /// The folder that relative paths start from.
    std::string folder() const;

private:
    nlohmann::ordered_json written(bool withAllEdits) const;

    std::string text_;
    std::optional<FileMark> mark_;       ///< of its file, as it was read or written last
    ArrangementSpec writtenArrangement_; ///< as raw_ has it
    std::string designText_;             ///< when the design is not the one in text_ any more
    std::shared_ptr<const nlohmann::ordered_json> raw_;
};

} // namespace scorrere
