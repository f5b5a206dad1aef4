// SPDX-License-Identifier: GPL-3.0-or-later
// What becomes of a wish to open something, in whatever order things happen.
#include "workbench/model/opening_state.h"

#include <gtest/gtest.h>
#include <optional>
#include <rapidcheck/gtest.h>

namespace scorrere::testing {
namespace {

using workbench::OpeningState;
using Phase = OpeningState::Phase;
using Wish = OpeningState::Wish;

TEST(OpeningState, WhatWasChangedMeanwhileIsAskedAbout) {
    OpeningState state;
    state.begin(Wish::Another, 3);
    EXPECT_EQ(state.came(4, true), OpeningState::Arrived::Waits);
    EXPECT_EQ(state.phase(), Phase::Waits);
    state.ended(); // all of it is here; it still waits
    EXPECT_EQ(state.phase(), Phase::Waits);
    state.land();
    EXPECT_EQ(state.phase(), Phase::Growing);
    state.ended();
    EXPECT_EQ(state.phase(), Phase::Idle);
}

TEST(OpeningState, WhatWasLetGoBeforeIsNotAskedAboutAgain) {
    OpeningState state;
    state.begin(Wish::Another, 3); // unsaved, and somebody said that it may go
    EXPECT_EQ(state.came(3, true), OpeningState::Arrived::Shows);
}

TEST(OpeningState, AnotherReadingOfTheSameNeverWaits) {
    OpeningState state;
    state.begin(Wish::Again, 3);
    EXPECT_EQ(state.came(9, true), OpeningState::Arrived::Shows);
}

TEST(OpeningState, AFailureIsOfTheSourceOnlyWhereItsCollectionShows) {
    OpeningState state;
    state.begin(Wish::Another, 0);
    EXPECT_EQ(state.failed(), OpeningState::Failure::OfOpening);
    state.begin(Wish::Another, 0);
    (void)state.came(0, false);
    EXPECT_EQ(state.failed(), OpeningState::Failure::OfSource);
    state.begin(Wish::Again, 0);
    EXPECT_EQ(state.failed(), OpeningState::Failure::OfSource);
    state.begin(Wish::Another, 0);
    (void)state.came(1, true);
    EXPECT_EQ(state.failed(), OpeningState::Failure::OfOpening) << "what waits does not show";
}

/// Nothing unsaved is ever replaced without a question since its last change, whatever happens in between.
RC_GTEST_PROP(OpeningState, NothingUnsavedGoesUnasked, ()) {
    OpeningState state;
    std::int64_t changes = 0;
    bool unsaved = false;
    std::optional<std::int64_t> agreed; // the changes that somebody said may go
    const auto steps = *rc::gen::container<std::vector<int>>(rc::gen::inRange(0, 7));
    for (const int step : steps) {
        switch (step) {
        case 0: // somebody works
            ++changes;
            unsaved = true;
            break;
        case 1:
            unsaved = false; // saved
            break;
        case 2: // a wish, agreed to where it must be asked
            agreed = changes;
            state.begin(Wish::Another, changes);
            break;
        case 3:
            state.begin(Wish::Again, changes);
            break;
        case 4:
            if (state.phase() == Phase::Reading && state.wish() == Wish::Another) {
                const bool replaces = state.came(changes, unsaved) == OpeningState::Arrived::Shows;
                RC_ASSERT(!replaces || !unsaved || agreed == changes);
                if (replaces) {
                    unsaved = false;
                }
            }
            break;
        case 5:
            if (state.phase() == Phase::Waits) {
                state.land(); // somebody said so
                unsaved = false;
            }
            break;
        default:
            state.dropped();
            RC_ASSERT(state.phase() == Phase::Idle);
        }
    }
}

} // namespace
} // namespace scorrere::testing
