// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/hard_records.h"

#include "engine/design/estimate.h"
#include "engine/record/record_builder.h"
#include "render/text_block.h"
#include "service/wing_pictures.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <fmt/format.h>

namespace scorrere::workbench {

namespace {

constexpr std::int64_t kFirstTold = 256;
constexpr int kMostPictures = 240;
constexpr double kRecordsShare = 0.7;               ///< of what takes time, where pictures are tried, about
constexpr std::int64_t kLookedAtForSections = 2048; ///< in the turn of the interface that asks

} // namespace

const PartSpec& designOf(const CollectionDocument& document, int which) {
    static const PartSpec none;
    if (isOfEntries(which)) {
        const PartSpec* strip = stripOf(document, which);
        return strip == nullptr ? none : strip->children.front();
    }
    if (which >= 0) {
        return which < static_cast<int>(document.kinds.size())
                   ? document.kinds[static_cast<std::size_t>(which)].design
                   : none;
    }
    return which == kHeaderDesign          ? document.header ? *document.header : none
           : which == kFooterDesign        ? document.footer ? *document.footer : none
           : which == kSectionHeaderDesign ? document.sectionHeader
           : which == kSectionFooterDesign ? document.sectionFooter ? *document.sectionFooter : none
           : which == kHeadingDesign       ? document.heading
           : which == kDetailDesign        ? document.detail ? *document.detail : none
                                           : document.item;
}

namespace {

const PartSpec* partAt(const PartSpec& in, const std::string& pointer) {
    if (in.pointer == pointer) {
        return &in;
    }
    for (const PartSpec& child : in.children) {
        if (const PartSpec* found = partAt(child, pointer)) {
            return found;
        }
    }
    return nullptr;
}

/// By its number among those there are; empty: none.
std::string stripPointer(const CollectionDocument& document, int which) {
    const auto number = static_cast<std::size_t>(kFirstEntryDesign - which);
    return number < document.strips.size()
               ? std::next(document.strips.begin(), static_cast<std::ptrdiff_t>(number))->first
               : std::string();
}

} // namespace

std::vector<const PartSpec*> designsIn(const CollectionDocument& document) {
    std::vector<const PartSpec*> designs{&document.item, &document.sectionHeader, &document.heading};
    for (const auto* extra : {&document.header, &document.footer, &document.sectionFooter}) {
        if (*extra) {
            designs.push_back(&**extra);
        }
    }
    for (const KindSpec& kind : document.kinds) {
        designs.push_back(&kind.design);
    }
    for (const auto& [name, piece] : document.pieces) {
        designs.push_back(&piece.body);
    }
    return designs;
}

const PartSpec* stripOf(const CollectionDocument& document, int which) {
    const std::string pointer = stripPointer(document, which);
    const std::vector<const PartSpec*> designs = designsIn(document);
    for (const PartSpec* design : designs) {
        if (const PartSpec* found = pointer.empty() ? nullptr : partAt(*design, pointer)) {
            return found;
        }
    }
    return nullptr;
}

const ArrangementSpec& stripArrangement(const CollectionDocument& document, int which) {
    return document.strips.at(stripPointer(document, which));
}

std::string designPointer(const CollectionDocument& document, int which) {
    if (isOfEntries(which)) {
        return stripPointer(document, which) + "/part";
    }
    return which >= 0                      ? fmt::format("/items/kinds/{}/design", which)
           : which == kHeaderDesign        ? std::string("/items/header")
           : which == kFooterDesign        ? std::string("/items/footer")
           : which == kSectionHeaderDesign ? std::string("/items/sectionHeader")
           : which == kSectionFooterDesign ? std::string("/items/sectionFooter")
           : which == kHeadingDesign       ? std::string("/items/heading")
           : which == kDetailDesign        ? std::string("/items/detail")
                                           : std::string("/items/record");
}

RecordTable sectionSpecimens(const CollectionDocument& document, const RecordTable& records) {
    struct Heading {
        std::string name;
        std::int64_t count = 0;
    };
    std::vector<Heading> all;
    std::optional<SectionChooser> chooser;
    if (document.arrangement.sections) {
        auto compiled =
            SectionChooser::compile(document.arrangement.sections->by,
                                    {records, document.locale, &document.parameters, nullptr, false}, {});
        chooser = compiled ? std::optional(std::move(*compiled)) : std::nullopt;
    }
    for (std::int64_t record = 0; chooser && record < std::min(records.size(), kLookedAtForSections);
         ++record) {
        if (record > 0 && chooser->isAlike(records, record - 1, record)) {
            ++all.back().count;
            continue;
        }
        std::string name;
        chooser->textOf({records, record, &document.parameters, nowOf(document), nullptr, -1, 0}, name);
        if (all.empty() || all.back().name != name) {
            all.push_back({std::move(name), 0});
        }
        ++all.back().count;
    }
    if (all.empty()) {
        all.push_back(
            {QCoreApplication::translate("scorrere::workbench::BoardModel", "A section").toStdString(), 1});
    }
    const auto length = [](const Heading& one) { return one.name.size(); };
    std::vector<const Heading*> shown;
    const auto show = [&shown](auto found) {
        const bool isNew =
            std::ranges::none_of(shown, [&](const Heading* one) { return one->name == found->name; });
        if (isNew) {
            shown.push_back(&*found);
        }
    };
    show(all.begin());
    show(std::ranges::min_element(all, {}, length));
    show(std::ranges::max_element(all, {}, length));
    show(std::ranges::min_element(all, {}, &Heading::count));
    show(std::ranges::max_element(all, {}, &Heading::count));
    RecordBuilder builder;
    for (const Heading* one : shown) {
        builder.setText(builder.fieldNamed("section"), one->name);
        builder.setInteger(builder.fieldNamed("count"), one->count);
        builder.endRecord();
    }
    return builder.finish();
}

std::shared_ptr<const render::PictureSource> picturesOf(const CollectionDocument& document,
                                                        render::PictureCalls calls) {
    const SourceSpec& source = document.source;
    if (source.isDemo || source.address.starts_with("demo:/")) {
        return std::make_shared<service::WingPictures>();
    }
    if (source.isService()) {
        const std::string plain = source.address.substr(0, source.address.find('{'));
        return std::make_shared<render::HttpPictures>(QString::fromStdString(plain), std::move(calls));
    }
    calls.ownHeaders.clear();
    // Pictures of records stand beside them; those of a collection, beside it.
    QStringList folders{QString::fromStdString(document.folder())};
    if (!source.file.empty()) {
        const QFileInfo records(QDir(folders.first()), QString::fromStdString(source.file));
        folders << records.absolutePath();
    }
    return std::make_shared<render::FolderPictures>(folders, std::move(calls));
}

std::shared_ptr<const render::PictureSource> wirePicturesOf(const CollectionDocument& document,
                                                            std::function<Result<std::string>()> demoAddress,
                                                            render::PictureCalls calls) {
    const SourceSpec& source = document.source;
    if (!source.isService()) {
        return picturesOf(document, std::move(calls));
    }
    if (source.address.starts_with("demo:/")) {
        return std::make_shared<render::HttpPictures>(std::move(demoAddress), std::move(calls));
    }
    const std::string plain = source.address.substr(0, source.address.find('{'));
    return std::make_shared<render::HttpPictures>([plain] { return Result<std::string>(plain); },
                                                  std::move(calls));
}

std::int64_t nowOf(const CollectionDocument& document) {
    return parseTime(document.now).value_or(QDateTime::currentMSecsSinceEpoch());
}

bool findHardRecords(const HardQuestion& question, const std::stop_token& stop,
                     const std::function<void(HardAnswer)>& tell, const ShareHandler& far) {
    const CollectionDocument& document = question.document;
    const RecordTable& records = *question.records;
    const DesignScope scope = document.scope(records);
    const auto design = ItemDesign::compile(designOf(document, question.which), scope);
    const auto kinds = KindChooser::compile(document.kinds, scope);
    if (!design || !kinds) {
        return false;
    }
    const render::FontSet fonts(*design, question.textScale);
    const auto tables = fonts.advanceTables();
    ItemEstimator estimator(*design, tables, false);
    ExtremesFinder finder(*design, records);
    std::vector<std::pair<std::int64_t, std::string>> addresses; // spread over all that was looked at
    std::int64_t spread = 1;
    std::int64_t told = kFirstTold;
    const auto answer = [&](bool isWhole, int tried) {
        tell({finder.found(), finder.considered(), isWhole, tried});
    };
    const auto goOn = [&](double share) { // false: it was stopped
        if (far) {
            far(share);
        }
        return !stop.stop_requested();
    };
    const bool hasPictures = std::ranges::any_of(
        design->parts(), [](const PlanPart& part) { return part.type == PartType::Picture; });
    const double recordsShare = hasPictures ? kRecordsShare : 1;
    for (std::int64_t record = 0; record < records.size(); ++record) {
        if ((record & 511) == 0 &&
            !goOn(recordsShare * static_cast<double>(record) / static_cast<double>(records.size()))) {
            return false;
        }
        const FillContext context{records, record, &document.parameters, question.nowMs, nullptr, -1, 0};
        if (!kinds->isEmpty() && kinds->kindOf(context) != std::max(question.which, -1)) {
            continue;
        }
        const auto size = estimator.estimate(context, {Length::fromPx(question.width)});
        // Scripts the tables do not cover have a height all the same; about is near enough to look at them.
        finder.consider(record, size.value_or(ItemSize()).height, estimator.content(), estimator.cut());
        if (record % spread == 0) {
            for (const PlanPart& part : design->parts()) {
                const auto binding = static_cast<std::size_t>(part.binding);
                if (part.type == PartType::Picture && estimator.content().present[binding] != 0) {
                    addresses.emplace_back(record, estimator.content().values[binding]);
                    break;
                }
            }
            if (static_cast<int>(addresses.size()) > kMostPictures) {
                spread *= 2;
                std::erase_if(addresses, [spread](const auto& one) { return one.first % spread != 0; });
            }
        }
        if (finder.considered() == told) {
            told *= 4;
            answer(false, 0);
        }
    }
    answer(false, 0);
    int tried = 0;
    for (const auto& [record, address] : addresses) {
        if (!goOn(recordsShare + (1 - recordsShare) * tried / static_cast<double>(addresses.size()))) {
            return false;
        }
        const auto picture = question.pictures->load(QString::fromStdString(address), {8, 8}, stop);
        ++tried;
        if (picture && !picture->natural.isEmpty()) {
            finder.considerPicture(record,
                                   static_cast<double>(picture->natural.width()) / picture->natural.height());
        } else if (!picture && picture.error().code == ErrorCode::NotFound) {
            finder.considerPicture(record, 0);
        }
    }
    answer(true, tried);
    return true;
}

} // namespace scorrere::workbench
