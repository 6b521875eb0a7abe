#pragma once

#include <QByteArray>
#include <QEventLoop>
#include <QJsonDocument>
#include <QJsonObject>
#include <QPointer>
#include <QProcess>
#include <QRegularExpression>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTemporaryDir>
#include <QTimer>

#include <functional>
#include <optional>

namespace ripple::tests {

/// A browser without a window, on its software adapter. It loads a small page from this process, which asks
/// for one job after the other (GET /job) and sends back what came out (POST /result).
class BrowserRun {
public:
    /// What is answered for a path: its bytes, and of which type they are; nothing is not found.
    struct Answer {
        const char* type = "text/html";
        QByteArray bytes;
    };
    using Answers = std::function<std::optional<Answer>(const QString& path)>;

    explicit BrowserRun(Answers answers, const QStringList& more = {}) : answers_(std::move(answers)) {
        server_.listen(QHostAddress::LocalHost);
        QObject::connect(&server_, &QTcpServer::newConnection, [this] {
            while (QTcpSocket* socket = server_.nextPendingConnection()) {
                QObject::connect(socket, &QTcpSocket::readyRead, [this, socket] { read(*socket); });
                QObject::connect(socket, &QTcpSocket::disconnected, [this, socket] {
                    requests_.remove(socket);
                    socket->deleteLater();
                });
            }
        });
        browser_.setProcessChannelMode(QProcess::MergedChannels);
        browser_.start("chromium",
                       QStringList{"--headless=new", "--no-sandbox", "--disable-gpu-watchdog",
                                   "--no-first-run", "--disable-background-networking",
                                   // What keeps a page's shaders within their buffers takes a quarter longer.
                                   "--enable-dawn-features=disable_robustness", "--enable-unsafe-webgpu",
                                   "--enable-features=Vulkan,WebGPU", "--use-webgpu-adapter=swiftshader",
                                   "--use-vulkan=swiftshader", "--use-angle=swiftshader",
                                   "--user-data-dir=" + profile_.path()} +
                           more + QStringList{QString("http://127.0.0.1:%1/").arg(server_.serverPort())});
    }
    ~BrowserRun() {
        browser_.kill();
        browser_.waitForFinished(10000);
        server_.close();
    }

    /// Hands the page a job and waits for its result. Nothing, and error(), where that has an `error`.
    std::optional<QJsonObject> ask(const QJsonObject& sent) {
        result_.reset();
        job_ = QJsonDocument(sent).toJson(QJsonDocument::Compact);
        offer();
        QEventLoop loop;
        waiting_ = &loop;
        QTimer::singleShot(120000, &loop, &QEventLoop::quit);
        if (!result_) {
            loop.exec();
        }
        waiting_ = nullptr;
        if (!result_ || result_->contains("error")) {
            error_ = result_ ? result_->value("error").toString()
                             : "the browser does not answer: " + QString(browser_.readAll().right(2000));
            return std::nullopt;
        }
        return result_;
    }
    const QString& error() const { return error_; }

private:
    void read(QTcpSocket& socket) {
        QByteArray& request = requests_[&socket];
        request += socket.readAll();
        const qsizetype head = request.indexOf("\r\n\r\n");
        if (head < 0) {
            return;
        }
        const QRegularExpression length("content-length: *(\\d+)", QRegularExpression::CaseInsensitiveOption);
        const qsizetype body = length.match(QString::fromLatin1(request.left(head))).captured(1).toLongLong();
        if (request.size() < head + 4 + body) {
            return;
        }
        const QByteArray whole = requests_.take(&socket);
        if (whole.startsWith("GET /job ")) {
            asking_ = &socket;
            offer();
        } else if (whole.startsWith("POST /result ")) {
            result_ = QJsonDocument::fromJson(whole.mid(head + 4)).object();
            answer(socket, "text/plain", "");
            if (waiting_) {
                waiting_->quit();
            }
        } else {
            const QString path =
                QString::fromUtf8(QByteArray::fromPercentEncoding(whole.split(' ').value(1)));
            const auto found = answers_(path);
            found ? answer(socket, found->type, found->bytes)
                  : answer(socket, "text/plain", "", "404 Not Found");
        }
    }
    void offer() {
        if (asking_ && !job_.isEmpty()) {
            answer(*asking_, "application/json", job_);
            asking_ = nullptr;
            job_.clear();
        }
    }
    static void answer(QTcpSocket& socket, const char* type, const QByteArray& body,
                       const char* status = "200 OK") {
        socket.write("HTTP/1.1 " + QByteArray(status) + "\r\nContent-Type: " + QByteArray(type) +
                     "\r\nContent-Length: " + QByteArray::number(body.size()) +
                     "\r\nConnection: keep-alive\r\n\r\n" + body);
    }

    Answers answers_;
    QHash<QTcpSocket*, QByteArray> requests_; ///< outlives the server's sockets, which leave it as they close
    QTemporaryDir profile_;
    QTcpServer server_;
    QProcess browser_;
    QPointer<QTcpSocket> asking_;
    QByteArray job_;
    std::optional<QJsonObject> result_;
    QEventLoop* waiting_ = nullptr;
    QString error_;
};

} // namespace ripple::tests
