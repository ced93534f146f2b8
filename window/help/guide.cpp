#include "window/help/guide.h"

#include <QDesktopServices>
#include <QFile>
#include <QImageReader>
#include <QTextBrowser>
#include <QTimer>
#include <QVBoxLayout>
#include <deque>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr int kPicture = 640;  // pixels: as wide as the text

/// The guide, read from the program itself. Its pictures take their room at once and come one after the other, for together they would keep
/// the window waiting.
class Pages : public QTextBrowser {
 public:
  QVariant loadResource(int type, const QUrl& name) override {
    if (type != QTextDocument::ImageResource) return QTextBrowser::loadResource(type, name);
    const QSize whole = QImageReader(pathOf(name)).size();
    if (whole.isEmpty()) return {};
    QImage room(kPicture, whole.height() * kPicture / whole.width(), QImage::Format_RGB32);
    room.fill(theme().line);
    if (waiting_.empty()) QTimer::singleShot(0, this, [this] { loadNext(); });
    waiting_.push_back(name);
    return room;
  }

 private:
  static QString pathOf(const QUrl& name) { return QStringLiteral(":/guide/") + name.path(); }
  void loadNext() {
    const QUrl name = waiting_.front();
    waiting_.pop_front();
    document()->addResource(QTextDocument::ImageResource, name, QImage(pathOf(name)).scaledToWidth(kPicture, Qt::SmoothTransformation));
    viewport()->update();
    if (!waiting_.empty()) QTimer::singleShot(0, this, [this] { loadNext(); });
  }

  std::deque<QUrl> waiting_;
};

}  // namespace

Guide::Guide(QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("Guide"));
  setAttribute(Qt::WA_DeleteOnClose);
  resize(kPicture + 80, 700);
  auto* pages = new Pages;
  pages->setAccessibleName(tr("Guide"));
  pages->setOpenLinks(false);
  QFile file(QStringLiteral(":/guide/guide.md"));
  if (file.open(QIODevice::ReadOnly)) pages->setMarkdown(QString::fromUtf8(file.readAll()));
  connect(pages, &QTextBrowser::anchorClicked, this, [pages](const QUrl& to) {
    if (to.isRelative() && to.path().isEmpty()) pages->scrollToAnchor(to.fragment());
    if (to.scheme().startsWith(QStringLiteral("http"))) QDesktopServices::openUrl(to);
  });
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(pages);
}

}  // namespace dune::window
