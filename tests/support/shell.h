#pragma once
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

namespace wavechroma::testing {

/// The command line as a shell has it, in a folder of its own.
class Shell
{
protected:
    struct Ran
    {
        int status;
        QByteArray out, err;
    };
    Ran run(const QStringList &arguments) const
    {
        QProcess process;
        process.setWorkingDirectory(m_folder.path());
        process.start(qEnvironmentVariable("WAVECHROMA_CLI"), arguments);
        const bool ended = process.waitForFinished(120000);
        const bool crashed = !ended || process.exitStatus() != QProcess::NormalExit;
        return {crashed ? -1 : process.exitCode(), process.readAllStandardOutput(),
                process.readAllStandardError()};
    }
    [[nodiscard]] QString at(const QString &name) const { return m_folder.filePath(name); }
    [[nodiscard]] QJsonDocument json(const QString &name) const
    {
        return QJsonDocument::fromJson(content(name));
    }
    [[nodiscard]] QByteArray content(const QString &name) const
    {
        QFile file(at(name));
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    }
    void write(const QString &name, const QByteArray &content) const
    {
        QFile file(at(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(content);
    }
    QTemporaryDir m_folder;
};

} // namespace wavechroma::testing
