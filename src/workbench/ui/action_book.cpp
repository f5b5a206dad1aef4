// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/action_book.h"

#include "workbench/model/opening.h"
#include "workbench/ui/look/sentence_word.h"

#include <QKeySequence>
#include <QPointer>

namespace scorrere::workbench {

/// All actions, and what the stations have beside. What belongs to a station goes there first.
std::vector<Offer> ActionBook::offers(const QString& typed, qsizetype current,
                                      const QStringList& recent) const {
    std::vector<Offer> all;
    for (const Entry& entry : entries_) {
        const bool isElsewhere = entry.station >= 0 && entry.station != current;
        if (!entry.action->isEnabled() && !isElsewhere) {
            continue; // nothing to undo
        }
        Offer offer{entry.group,
                    entry.action->text(),
                    entry.action->shortcut().toString(QKeySequence::NativeText),
                    {},
                    false};
        offer.does = [this, entry] {
            if (entry.station >= 0) {
                show_(entry.station);
            }
            entry.action->trigger();
        };
        all.push_back(std::move(offer));
    }
    for (const QString& path : recent) {
        all.push_back({QObject::tr("Opened before"),
                       path,
                       {},
                       [this, path] { workspace_.opening().open(path); },
                       false});
    }
    for (int i = 0; i < stations_.size() && workspace_.isOpen() && !typed.isEmpty(); ++i) {
        addWordOffers(all, i);
        for (Offer& offer : stations_[i]->offers(typed)) {
            offer.group = stations_[i]->title();
            offer.isOnlyFound = true;
            offer.does = [this, i, does = std::move(offer.does)] {
                show_(i);
                does();
            };
            all.push_back(std::move(offer));
        }
    }
    return all;
}

/// What the words of a station's sentence can become.
void ActionBook::addWordOffers(std::vector<Offer>& to, int station) const {
    QWidget* sentence = stations_[station]->sentence();
    if (sentence == nullptr) {
        return;
    }
    const auto words = sentence->findChildren<SentenceWord*>();
    for (SentenceWord* word : words) {
        for (const QString& choice : word->choices()) {
            if (choice != word->word()) {
                to.push_back({stations_[station]->title(),
                              QObject::tr("%1: %2").arg(word->what(), choice),
                              {},
                              [this, station, word = QPointer(word), choice] {
                                  show_(station);
                                  if (word) {
                                      word->choose(choice);
                                  }
                              },
                              true});
            }
        }
    }
}

} // namespace scorrere::workbench
