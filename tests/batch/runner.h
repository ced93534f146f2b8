#pragma once
// Runs the real executable in a folder of its own.

#include <QFileInfo>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"

class BatchTest : public QObject {
 protected:
  struct Answer {
    int code;
    std::string out, err;
  };

  QString path(const char* name) const { return folder_.filePath(QString::fromLatin1(name)); }
  Answer run(QStringList arguments) const {
    // "@name" stands for a file in the test's folder.
    for (QString& a : arguments)
      if (a.startsWith('@')) a = folder_.filePath(a.mid(1));
    QProcess process;
    process.start(QStringLiteral(DUNE_BATCH), arguments);
    if (!process.waitForFinished(600000)) return {-1, {}, "did not finish"};
    if (process.exitStatus() != QProcess::NormalExit) return {-2, {}, "crashed"};
    return {process.exitCode(), process.readAllStandardOutput().toStdString(), process.readAllStandardError().toStdString()};
  }
  static QStringList words(const char* line) { return QString::fromUtf8(line).split(' ', Qt::SkipEmptyParts); }
  Answer run(const char* line) const { return run(words(line)); }
  void write(const char* name, const std::string& content) const { QVERIFY(dune::writeFile(path(name).toStdString(), content).ok()); }
  bool exists(const char* name) const { return QFileInfo::exists(path(name)); }

  QTemporaryDir folder_;
};
