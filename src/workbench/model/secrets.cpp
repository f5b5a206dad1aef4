// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/model/secrets.h"

#include <QProcessEnvironment>
#include <qt6keychain/keychain.h>

namespace scorrere::workbench {

namespace {
const QString kService = QStringLiteral("scorrere");
}

std::optional<std::string> secretInEnvironment(const std::string& name) {
    const QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    const QString key = QString::fromStdString(name);
    if (name.empty() || !environment.contains(key)) {
        return std::nullopt;
    }
    return environment.value(key).toStdString();
}

void DesktopSecrets::find(const std::string& name, Found found) {
    if (const auto known = session_.find(name); known != session_.end()) {
        return found(known->second);
    }
    if (const auto given = secretInEnvironment(name)) {
        return found(given);
    }
    auto* job = new QKeychain::ReadPasswordJob(kService, this);
    job->setKey(QString::fromStdString(name));
    connect(job, &QKeychain::Job::finished, this, [this, job, name, found = std::move(found)] {
        if (job->error() != QKeychain::NoError) {
            return found(std::nullopt); // none of that name, or no such service on this desktop: ask
        }
        session_[name] = job->textData().toStdString();
        found(session_[name]);
    });
    job->start();
}

void DesktopSecrets::keep(const std::string& name, const std::string& secret, bool lasting,
                          std::function<void(const QString& problem)> kept) {
    session_[name] = secret;
    if (!lasting) {
        return kept({});
    }
    auto* job = new QKeychain::WritePasswordJob(kService, this);
    job->setKey(QString::fromStdString(name));
    job->setTextData(QString::fromStdString(secret));
    connect(job, &QKeychain::Job::finished, this, [job, kept = std::move(kept)] {
        kept(job->error() == QKeychain::NoError
                 ? QString()
                 : tr("It is kept until this program ends: the desktop's secret service says \"%1\".")
                       .arg(job->errorString()));
    });
    job->start();
}

} // namespace scorrere::workbench

#include "moc_secrets.cpp"
