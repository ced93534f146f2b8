#pragma once
// Nothing is lost: what is not saved yet is written to the state folder a moment after each change, beside the window's thread, and taken
// away when it is saved or set aside. What a program that was killed left behind is found by the next one.
//
// A file of its own for each window, and a lock that ends with its process: what nobody holds any more was left behind.

#include <QDateTime>
#include <QLockFile>
#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include "core/project/unsaved.h"
#include "window/session/project_file.h"

namespace dune::window {

class UnsavedWork : public QObject {
  Q_OBJECT

 public:
  static constexpr int kDelayMs = 1000;  ///< from a change until it is written

  UnsavedWork(project::Document& document, const ProjectFile& file, Bulletin& bulletin);
  /// What is not saved is set aside by a person: nothing is left of it.
  ~UnsavedWork() override;
  /// The document or where it is kept is another than it was.
  void look();

  /// The document has what a program left, and keeps it aside itself from now on: that goes once this is written.
  void takeOver(const QString& left);

  /// What a program left that ended without saving or being asked.
  struct Left {
    QString id;       ///< the file it lies in
    QString project;  ///< path; empty where it was never saved
    QDateTime when;   ///< of the last change that was kept
    QDateTime saved;  ///< when the project's file was written last; not valid where it is gone
    bool savedSince;  ///< that is another file than the work began with
  };
  /// The latest first.
  static std::vector<Left> left();
  static Result<project::Unsaved> read(const QString& id);
  static void forget(const QString& id);
  /// Where it all lies.
  static QString folder();

 private:
  void write();
  void removeLater();
  bool begin();

  project::Document& document_;
  const ProjectFile& file_;
  Bulletin& bulletin_;
  QString path_, takenOver_;
  std::unique_ptr<QLockFile> lock_;
  project::Project written_;
  bool kept_ = false, failed_ = false;
  QTimer soon_;
  QThreadPool writer_;  // one thread: writes come in order
};

}  // namespace dune::window
