// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTcpServer>
#include <QTcpSocket>
#include <QThread>
#include <functional>
#include <future>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

namespace scorrere::testing {

/// A server that says to every connection exactly what it was given to say, and keeps what it heard.
class RawServer {
public:
    /// What it says to a request; an event stream stays open afterwards.
    using Answering = std::function<std::string(const std::string& request)>;

    explicit RawServer(std::string says, bool close = true)
        : RawServer([says = std::move(says)](const std::string&) { return says; }, close) {}
    explicit RawServer(Answering says, bool close = true) {
        thread_.start();
        server_ = std::make_unique<QTcpServer>();
        server_->moveToThread(&thread_);
        onItsThread([this, says = std::move(says), close] { listen(says, close); });
    }
    ~RawServer() {
        onItsThread([this] { server_.reset(); });
        thread_.quit();
        thread_.wait();
    }
    std::string address() const { return "http://127.0.0.1:" + std::to_string(port_); }
    /// All that was asked so far.
    std::string heard() const {
        const std::lock_guard lock(mutex_);
        return heard_;
    }

private:
    /// Waits for it. By means of the language: a checker of threads does not see those of the toolkit.
    void onItsThread(const std::function<void()>& does) {
        std::promise<void> done;
        QMetaObject::invokeMethod(server_.get(), [&] {
            does();
            done.set_value();
        });
        done.get_future().wait();
    }

    void listen(const Answering& says, bool close) {
        server_->listen(QHostAddress::LocalHost, 0);
        port_ = server_->serverPort();
        QObject::connect(server_.get(), &QTcpServer::newConnection, server_.get(), [this, says, close] {
            QTcpSocket* socket = server_->nextPendingConnection();
            const auto request = std::make_shared<std::string>();
            QObject::connect(socket, &QTcpSocket::readyRead, socket, [this, socket, says, close, request] {
                const std::string came = socket->readAll().toStdString();
                {
                    const std::lock_guard lock(mutex_);
                    heard_ += came;
                }
                *request += came;
                if (request->ends_with("\r\n\r\n")) {
                    const std::string answer = says(*request);
                    socket->write(QByteArray::fromStdString(answer));
                    socket->flush();
                    if (close && answer.find("text/event-stream") == std::string::npos) {
                        socket->disconnectFromHost();
                    }
                }
            });
        });
    }

    QThread thread_;
    std::unique_ptr<QTcpServer> server_;
    mutable std::mutex mutex_;
    std::string heard_;
    int port_ = 0;
};

} // namespace scorrere::testing
