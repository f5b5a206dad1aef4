// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <functional>
#include <map>
#include <optional>
#include <string>

namespace scorrere::workbench {

/// Finds secrets by their names. They are never written to a file, a log or a picture by this program.
///
/// Threads     The interface thread; answers come later, on it.
class Secrets : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;
    using Found = std::function<void(std::optional<std::string> secret)>;
    /// Looks among those given in this session, which may mend what is wrong elsewhere; then in the
    /// environment (a variable of that name), then in the desktop's secret service.
    virtual void find(const std::string& name, Found found) = 0;
    /// Keeps one for this session and, when `lasting`, in the desktop's secret service. `kept` tells whether
    /// it will last, or why not.
    virtual void keep(const std::string& name, const std::string& secret, bool lasting,
                      std::function<void(const QString& problem)> kept) = 0;
};

/// The real ones.
class DesktopSecrets final : public Secrets {
    Q_OBJECT
public:
    using Secrets::Secrets;
    void find(const std::string& name, Found found) override;
    void keep(const std::string& name, const std::string& secret, bool lasting,
              std::function<void(const QString& problem)> kept) override;

private:
    std::map<std::string, std::string> session_;
};

/// The secret of that name in the environment.
std::optional<std::string> secretInEnvironment(const std::string& name);

} // namespace scorrere::workbench
