#include "window/help/guide.h"

#include <QDesktopServices>
#include <QFile>
#include <QTextBrowser>
#include <QVBoxLayout>

namespace dune::window {

namespace {

constexpr int kPicture = 640;  // pixels: as wide as the text

/// The guide, read from the program itself; its pictures too.
class Pages : public QTextBrowser {
 public:
  QVariant loadResource(int type, const QUrl& name) override {
    if (type != QTextDocument::ImageResource) return QTextBrowser::loadResource(type, name);
    const QImage image(QStringLiteral(":/guide/") + name.path());
    return image.isNull() ? image : image.scaledToWidth(kPicture, Qt::SmoothTransformation);
  }
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
