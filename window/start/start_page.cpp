#include "window/start/start_page.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QStandardPaths>
#include <QToolButton>

#include "window/scene/theme.h"

static void loadPictures() { Q_INIT_RESOURCE(start); }  // for the library that holds them is linked statically

namespace dune::window {

namespace {

constexpr QSize kPicture{176, 110};
constexpr int kMostRecent = 3, kCardWide = 196;

QLabel* heading(const QString& text) {
  auto* label = new QLabel(text);
  label->setObjectName(QStringLiteral("section"));
  return label;
}

QString pathOfPicture(const QString& project) {
  const QByteArray name = QCryptographicHash::hash(QFileInfo(project).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex();
  return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + QStringLiteral("/pictures/") + QString::fromLatin1(name) +
         QStringLiteral(".png");
}

/// What a project has that was never drawn.
QPixmap plainPicture() {
  QPixmap picture(kPicture);
  picture.fill(theme().sky);
  QPainter(&picture).fillRect(0, kPicture.height() * 3 / 5, kPicture.width(), kPicture.height(), theme().ground);
  return picture;
}

}  // namespace

void keepPicture(const QString& project, const QImage& world) {
  if (project.isEmpty() || world.isNull()) return;
  const QString path = pathOfPicture(project);
  QDir().mkpath(QFileInfo(path).path());
  const QSize size = 2 * kPicture;  // sharp on fine screens
  QImage scaled = world.scaled(size, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
  scaled = scaled.copy((scaled.width() - size.width()) / 2, (scaled.height() - size.height()) / 2, size.width(), size.height());
  scaled.save(path);  // a picture that cannot be kept is not missed
}

QPixmap pictureOf(const QString& project) {
  const QPixmap kept(pathOfPicture(project));
  return kept.isNull() ? plainPicture() : kept;
}

StartPage::StartPage(QWidget* parent) : QScrollArea(parent) {
  loadPictures();
  if (parent) parent->installEventFilter(this);
  setWidgetResizable(true);
  setFrameShape(QFrame::NoFrame);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(28, 18, 28, 18);
  column->setSpacing(9);
  unsaved_ = new QWidget;
  unsavedRows_ = new QVBoxLayout(unsaved_);
  unsavedRows_->setContentsMargins(0, 0, 0, 10);
  unsaved_->hide();
  column->addWidget(unsaved_);
  auto* title = new QLabel(tr("Begin with a level"));
  title->setObjectName(QStringLiteral("title"));
  column->addWidget(title);
  auto* begin = new QHBoxLayout;
  auto* level = new QPushButton(tr("Open a level…"));
  level->setObjectName(QStringLiteral("primary"));
  level->setToolTip(tr("Read a file from a modelling program, a tile map or a height map"));
  auto* project = new QPushButton(tr("Open a project…"));
  auto* draw = new QPushButton(tr("Draw floors by hand"));
  draw->setToolTip(tr("Begin without a file: draw floors and blockers corner by corner"));
  for (QPushButton* b : {level, project, draw}) begin->addWidget(b);
  begin->addStretch(1);
  column->addLayout(begin);
  auto* files = new QLabel(
      tr("Levels: .obj, .gltf, .glb, .ply, .stl, .dae. Tile maps: .tmx, .tmj. Height maps: .png. They can also be dropped on the window."));
  files->setObjectName(QStringLiteral("quiet"));
  files->setWordWrap(true);
  column->addWidget(files);
  column->addSpacing(10);
  column->addWidget(recentTitle_ = heading(tr("Open again")));
  recentRow_ = new QWidget;
  recent_ = new QHBoxLayout(recentRow_);
  recent_->setContentsMargins(0, 0, 0, 0);
  column->addWidget(recentRow_);
  column->addWidget(heading(tr("Or try an example")));
  auto* row = new QHBoxLayout;
  for (const demo::Example& example : demo::examples()) {
    QToolButton* b = card(tr(example.name), tr(example.about), QPixmap(QStringLiteral(":/start/%1.png").arg(QLatin1String(example.file))));
    connect(b, &QToolButton::clicked, this, [this, &example] { emit exampleChosen(example); });
    row->addWidget(b);
  }
  row->addStretch(1);
  column->addLayout(row);
  column->addStretch(1);
  setWidget(page);
  connect(level, &QPushButton::clicked, this, &StartPage::openLevelAsked);
  connect(project, &QPushButton::clicked, this, &StartPage::openProjectAsked);
  connect(draw, &QPushButton::clicked, this, &StartPage::drawAsked);
  setRecent({});
}

void StartPage::setUnsaved(const std::vector<Unsaved>& all) {
  while (QLayoutItem* item = unsavedRows_->takeAt(0)) {
    item->widget()->deleteLater();
    delete item;
  }
  unsaved_->setVisible(!all.empty());
  if (all.empty()) return;
  unsavedRows_->addWidget(heading(tr("Not saved when the program ended")));
  for (const Unsaved& u : all) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* what = new QLabel(QStringLiteral("<b>%1</b>: %2").arg(u.name.toHtmlEscaped(), u.about.toHtmlEscaped()));
    what->setWordWrap(true);
    auto* open = new QPushButton(tr("Go on with it"));
    auto* away = new QPushButton(tr("Throw away"));
    open->setAccessibleName(tr("Go on with %1").arg(u.name));
    away->setAccessibleName(tr("Throw away what was not saved of %1").arg(u.name));
    connect(open, &QPushButton::clicked, this, [this, id = u.id] { emit unsavedChosen(id); });
    connect(away, &QPushButton::clicked, this, [this, id = u.id] { emit unsavedThrownAway(id); });
    line->addWidget(what, 1);
    line->addWidget(open), line->addWidget(away);
    unsavedRows_->addWidget(row);
  }
}

bool StartPage::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::Resize && watched == parent()) resize(parentWidget()->size());
  return QScrollArea::eventFilter(watched, event);
}

QToolButton* StartPage::card(const QString& name, const QString& line, const QPixmap& picture) {
  auto* b = new QToolButton;
  b->setObjectName(QStringLiteral("card"));
  b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
  b->setIcon(QIcon(picture));
  b->setIconSize(kPicture);
  b->setFixedWidth(kCardWide);
  b->setText(name + QLatin1Char('\n') + b->fontMetrics().elidedText(line, Qt::ElideMiddle, kCardWide - 14));
  b->setToolTip(line);
  b->setAccessibleName(name);
  b->setAccessibleDescription(line);
  return b;
}

void StartPage::setRecent(const QStringList& paths) {
  while (QLayoutItem* item = recent_->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  int count = 0;
  for (const QString& path : paths) {
    if (count == kMostRecent) break;
    if (!QFileInfo::exists(path)) continue;
    QToolButton* b = card(QFileInfo(path).completeBaseName(), path, pictureOf(path));
    connect(b, &QToolButton::clicked, this, [this, path] { emit projectChosen(path); });
    recent_->addWidget(b);
    ++count;
  }
  recent_->addStretch(1);
  recentRow_->setVisible(count > 0), recentTitle_->setVisible(count > 0);
}

}  // namespace dune::window
