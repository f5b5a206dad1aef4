// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "engine/base/pace.h"
#include "engine/design/extremes.h"
#include "engine/document/collection_document.h"
#include "render/picture_source.h"

#include <functional>
#include <memory>
#include <stop_token>

namespace scorrere::workbench {

/// Which design of a document: -1 the record's, -2 the header's, -3 the footer's, else a kind.
constexpr int kRecordDesign = -1;
constexpr int kHeaderDesign = -2;
constexpr int kFooterDesign = -3;
constexpr int kSectionHeaderDesign = -4;
constexpr int kSectionFooterDesign = -5;
constexpr int kHeadingDesign = -6; ///< of a table
constexpr int kDetailDesign = -7;  ///< of a record at length
/// Of the entries of the strips within items: the first one's in order of CollectionDocument::strips, and down from it.
constexpr int kFirstEntryDesign = -100;
/// Of a record, or of a kind of records; the others stand once, or once a section.
inline bool isOfRecords(int which) {
    return which >= kRecordDesign || which == kDetailDesign;
}
inline bool isOfEntries(int which) {
    return which <= kFirstEntryDesign;
}
inline bool isOfSections(int which) {
    return which == kSectionHeaderDesign || which == kSectionFooterDesign;
}
const PartSpec& designOf(const CollectionDocument& document, int which);
/// Its JSON Pointer in the document.
std::string designPointer(const CollectionDocument& document, int which);
/// All of them, of pieces, too; not of states.
std::vector<const PartSpec*> designsIn(const CollectionDocument& document);
/// The strip whose entries a design is of; null: there is none any more. Requires: isOfEntries.
const PartSpec* stripOf(const CollectionDocument& document, int which);
/// How that is arranged. Requires: stripOf gives one.
const ArrangementSpec& stripArrangement(const CollectionDocument& document, int which);

/// What a section's header says, of some of the sections that the first records are in: those of the longest and
/// the shortest name, of the most records and the fewest. One made up where there are none.
RecordTable sectionSpecimens(const CollectionDocument& document, const RecordTable& records);

/// What the board asks of all records.
struct HardQuestion {
    CollectionDocument document;
    int which = kRecordDesign;
    std::shared_ptr<const RecordTable> records;
    std::shared_ptr<const render::PictureSource> pictures;
    double width = 360;
    double textScale = 1;
    std::int64_t nowMs = 0;
};

struct HardAnswer {
    std::vector<HardRecord> records;
    std::int64_t considered = 0; ///< so many were looked at
    bool isWhole = false;
    int picturesTried = 0;
};

/// Looks at every record a design is for: heights are estimated from content, pictures of a few hundred are
/// tried for real. Tells what it found after 256 records, and each time it has looked at four times as many;
/// `far` how far it is, about.
///
/// Threads     Any; blocks: for workers. Gives false when stopped, or when the design does not fit the
/// records.
bool findHardRecords(const HardQuestion& question, const std::stop_token& stop,
                     const std::function<void(HardAnswer)>& tell, const ShareHandler& far = nullptr);

/// Where a document's pictures come from: the demo's are drawn, a service's are asked for, others are files
/// in the document's folder.
std::shared_ptr<const render::PictureSource> picturesOf(const CollectionDocument& document,
                                                        render::PictureCalls calls = {});
/// The same as a run over the network gets them: the demo service's are asked for, too, and all feel the
/// weather. `demoAddress` may wait; it is called on worker threads.
std::shared_ptr<const render::PictureSource> wirePicturesOf(const CollectionDocument& document,
                                                            std::function<Result<std::string>()> demoAddress,
                                                            render::PictureCalls calls);

/// The time that relative times of a document are relative to, ms since 1970.
std::int64_t nowOf(const CollectionDocument& document);

} // namespace scorrere::workbench
