// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/source/first_records.h"

#include "render/source_call.h"
#include "workbench/model/hard_records.h"
#include "workbench/model/plain_design.h"
#include "workbench/ui/look/labels.h"

#include <QVBoxLayout>

namespace scorrere::workbench {

FirstRecords::FirstRecords(Look& look, const Workspace& workspace, QWidget* parent)
    : QWidget(parent), look_(look), workspace_(workspace), heading_(new QLabel(tr("First records"))),
      strip_(new render::StripWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 6, 10, 12);
    heading_->setObjectName(QStringLiteral("stripHeading"));
    strip_->setObjectName(QStringLiteral("firstRecords"));
    strip_->setAccessibleName(tr("The first records, running as a plain list"));
    column->addWidget(heading_);
    column->addWidget(strip_, 1);
    connect(&look_, &Look::changed, this, &FirstRecords::restyle);
    restyle();
}

void FirstRecords::take(const std::shared_ptr<const RecordTable>& records) {
    if (!workspace_.isOpen()) {
        return;
    }
    const Opened& opened = workspace_.opened();
    const SourceSpec& source = workspace_.document().source;
    auto document = plainDocument("", source, *records);
    if (document) {
        document->path = opened.document.path; // pictures stand beside it
        (void)static_cast<bool>(strip_->setCollection(
            *document, records,
            workbench::picturesOf(*document,
                                  {nullptr, opened.access, render::ownHeaders(source, opened.secret)})));
    }
}

void FirstRecords::tellCount(std::int64_t count, bool areAll) {
    heading_->setText(
        (areAll ? tr("First records · %1 here") : tr("First records · %1 so far")).arg(grouped(count)));
}

void FirstRecords::bringUp(std::int64_t record) {
    auto* live = strip_->collection();
    if (live != nullptr && record >= 0 && record < live->records().size()) {
        live->run().jumpTo(record);
        strip_->driver().want();
    }
}

void FirstRecords::restyle() {
    heading_->setFont(look_.font(12.5, 600));
    strip_->setColours(look_.items);
}

} // namespace scorrere::workbench

#include "moc_first_records.cpp"
