// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "workbench/model/workspace.h"
#include "workbench/ui/look/look.h"
#include "workbench/ui/look/offer.h"

#include <QAction>
#include <QKeySequence>
#include <QList>
#include <QSettings>
#include <QWidget>
#include <functional>
#include <vector>

namespace scorrere::workbench {

/// What every station is given.
struct StationNeeds {
    Workspace& workspace;
    Look& look;
    std::function<QString(QWidget*)> askWhatToOpen;                           ///< empty: nothing
    std::function<QString(QWidget*, const QString& proposed)> askWhereToSave; ///< empty: nowhere
    QString pagesFile; ///< where pages are kept from run to run; empty: nowhere
};

/// One of the places where work is done: a view on the workspace, with a sentence above it.
///
/// It shows the document and changes it through Workspace::change; it knows no other station. The window
/// gives it a key, a place in the menu and its settings, as it does to all.
class Station : public QWidget {
    Q_OBJECT
public:
    explicit Station(const StationNeeds& needs, QWidget* parent = nullptr)
        : QWidget(parent), workspace_(needs.workspace), look_(needs.look) {}

    virtual QString id() const = 0; ///< never changes: settings and findings name it
    virtual QString title() const = 0;
    /// What stands above it while it is seen; null: nothing. The station's own.
    virtual QWidget* sentence() { return nullptr; }
    /// Whether its sentence has anything to say without a document.
    virtual bool hasSentenceWhenEmpty() const { return false; }
    /// It is seen from now on.
    virtual void entered() {}
    /// Another is seen.
    virtual void left() {}
    /// Shows what a finding, a search or a link leads to.
    virtual void reveal(const Target& target) { Q_UNUSED(target) }
    virtual void save(QSettings& settings) const { Q_UNUSED(settings) }
    virtual void restore(QSettings& settings) { Q_UNUSED(settings) }
    /// What can be found in it by typing, beside its actions: each leads somewhere in it.
    virtual std::vector<Offer> offers(const QString& typed) {
        Q_UNUSED(typed)
        return {};
    }
    /// What can be done in it, in order. Those that work only while it is seen, and those that always do.
    const QList<QAction*>& ownActions() const { return own_; }
    const QList<QAction*>& lastingActions() const { return lasting_; }

Q_SIGNALS:
    void noticed(const scorrere::workbench::Notice& notice);
    void goWanted(const scorrere::workbench::Target& target);

protected:
    Workspace& workspace() { return workspace_; }
    const Workspace& workspace() const { return workspace_; }
    Look& look() const { return look_; }
    QAction* addOwn(const QString& name, const QString& text, const QKeySequence& keys,
                    std::function<void()> does) {
        own_ << made(name, text, keys, std::move(does));
        return own_.last();
    }
    QAction* addLasting(const QString& name, const QString& text, const QKeySequence& keys,
                        std::function<void()> does) {
        lasting_ << made(name, text, keys, std::move(does));
        return lasting_.last();
    }

private:
    QAction* made(const QString& name, const QString& text, const QKeySequence& keys,
                  std::function<void()> does);

    Workspace& workspace_;
    Look& look_;
    QList<QAction*> own_;
    QList<QAction*> lasting_;
};

} // namespace scorrere::workbench
