// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "render/live_collection.h"
#include "render/picture_source.h"
#include "service/demo_document.h"
#include "service/moths.h"
#include "service/survey_server.h"

#include <QTemporaryDir>
#include <QTest>
#include <functional>
#include <gtest/gtest.h>

namespace scorrere::testing {

/// A collection over the real demo service on loopback, its frames made by hand.
class PagedFixture : public ::testing::Test {
protected:
    void serve(std::int64_t count, service::ServerSettings settings = {}) {
        settings.count = count;
        server = std::make_shared<service::SurveyServer>(settings, nullptr);
        ASSERT_TRUE(server->start());
    }
    /// Opens the demo collection over it; `change` may alter the document and the wire first.
    void open(std::int64_t count,
              const std::function<void(CollectionDocument&, render::WireSetup&)>& change = {}) {
        if (!server) {
            serve(count);
        }
        auto document = CollectionDocument::parse(service::demoServiceDocument(), "");
        ASSERT_TRUE(document) << document.error().text();
        document->source.sign = {};
        document->source.stream = {};
        document->paging.diskMiB = 0;
        render::WireSetup setup;
        if (change) {
            change(*document, setup);
        }
        setup.source = document->source;
        setup.demoAddress = [held = server] { return Result<std::string>(held->address()); };
        auto records = std::make_shared<const RecordTable>(service::makeSightings(20, 1).value());
        setup.fields = records->fields();
        auto made = render::LiveCollection::create(
            *document, records, std::make_shared<render::FolderPictures>(QStringList()),
            render::Estimating::Background, std::make_unique<render::PagedRecords>(document->paging, setup));
        ASSERT_TRUE(made) << made.error().text();
        live = std::move(*made);
        live->setWindow(360, 700);
        live->startPages(now);
    }
    Pager& pager() { return live->paged()->pager(); }
    /// Frames go on, 8 ms of the run's clock each, while events are handled, until it holds.
    bool until(const std::function<bool()>& holds, int timeoutMs = 20'000) {
        return QTest::qWaitFor(
            [&] {
                frames(1);
                return holds();
            },
            timeoutMs);
    }
    void frames(int count) {
        for (int i = 0; i < count; ++i) {
            now += 8000;
            live->frame(now);
        }
    }
    bool quiet() { return pager().inFlight().empty() && !live->isEstimating() && live->isIdle(); }
    std::string keyAt(std::int64_t place) {
        const PageRecord* record =
            place < pager().strip().places() ? pager().strip().recordAt(place) : nullptr;
        return record == nullptr ? "" : record->key;
    }

    std::shared_ptr<service::SurveyServer> server; ///< shared with wires that end by themselves
    std::unique_ptr<render::LiveCollection> live;
    std::int64_t now = 0;
};

} // namespace scorrere::testing
