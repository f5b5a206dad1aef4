// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/saver.h"

#include <utility>

namespace scorrere::workbench {

void Saver::save(Wish wish, Done done) {
    turns_.push_back({std::move(wish), std::move(done)});
    if (turns_.size() == 1) {
        next();
    }
}

void Saver::next() {
    const auto ended = [this](Result<CollectionDocument> outcome) {
        const Done done = std::move(turns_.front().done);
        turns_.pop_front();
        done(std::move(outcome));
        if (!turns_.empty() && !job_.isBusy()) {
            next();
        }
    };
    std::optional<SaveWish> wish = turns_.front().wish();
    if (!wish) {
        return ended(Error{ErrorCode::Unwritable, "it is not open any more", {}, {}});
    }
    job_.start(
        [wish = std::move(*wish)](const std::stop_token&, const render::Job::Post&) {
            return wish.document.savedAs(wish.path, wish.overTheirs);
        },
        ended);
}

} // namespace scorrere::workbench
