// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QTcpServer>
#include <QTcpSocket>
#include <QThread>
#include <memory>
#include <string>
#include <vector>

namespace scorrere::testing {

/// A server that says to every connection exactly what it was given to say, and keeps what it heard.
class RawServer {
public:
    explicit RawServer(std::string says, bool close = true) {
        thread_.start();
        server_ = std::make_unique<QTcpServer>();
        server_->moveToThread(&thread_);
        QMetaObject::invokeMethod(
            server_.get(),
            [this, says = std::move(says), close] {
                server_->listen(QHostAddress::LocalHost, 0);
                port_ = server_->serverPort();
                QObject::connect(
                    server_.get(), &QTcpServer::newConnection, server_.get(), [this, says, close] {
                        QTcpSocket* socket = server_->nextPendingConnection();
                        QObject::connect(socket, &QTcpSocket::readyRead, socket, [this, socket, says, close] {
                            heard_ += socket->readAll().toStdString();
                            if (heard_.ends_with("\r\n\r\n")) {
                                socket->write(QByteArray::fromStdString(says));
                                socket->flush();
                                if (close) {
                                    socket->disconnectFromHost();
                                }
                            }
                        });
                    });
            },
            Qt::BlockingQueuedConnection);
    }
    ~RawServer() {
        QMetaObject::invokeMethod(
            server_.get(), [this] { server_.reset(); }, Qt::BlockingQueuedConnection);
        thread_.quit();
        thread_.wait();
    }
    std::string address() const { return "http://127.0.0.1:" + std::to_string(port_); }
    /// Only once its answer arrived.
    const std::string& heard() const { return heard_; }

private:
    QThread thread_;
    std::unique_ptr<QTcpServer> server_;
    std::string heard_;
    int port_ = 0;
};

} // namespace scorrere::testing
