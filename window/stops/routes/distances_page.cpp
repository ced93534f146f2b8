#include "window/stops/routes/distances_page.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kNear = 2;        // m from ground that a click may be
constexpr double kParts = 30;      // of the distance: how finely the ground is looked at
constexpr double kFinest = 0.25;   // m
constexpr double kArrowEvery = 3;  // m² of ground to an arrow
constexpr int kMostArrows = 900;

/// The place under a click or a drag.
class PlaceTool : public Tool {
 public:
  explicit PlaceTool(DistancesPage& page) : page_(page) {}
  QString hint() const override { return QObject::tr("Click a place, or drag it about: rings show how far everything is."); }
  bool press(const Pointer& p) override {
    held_ = p.hit.has_value();
    if (p.hit) page_.ask(p.hit->at);
    return held_;
  }
  void drag(const Pointer& p) override {
    if (held_ && p.hit) page_.ask(p.hit->at);
  }
  void drop(const Pointer&) override { held_ = false; }

 private:
  DistancesPage& page_;
  bool held_ = false;
};

}  // namespace

DistancesPage::DistancesPage(Workspace& workspace) : Sheet({}, workspace) {
  heading_ = new QComboBox;
  heading_->addItems({tr("How far from here"), tr("How far to here")});
  heading_->setAccessibleName(tr("Distances"));
  heading_->setToolTip(tr("One-way links and what it costs to enter make the two different"));
  column_->addWidget(heading_);
  within_ = number(tr("Within"), tr("m"), 1, 1000, 5, 0);
  within_->setToolTip(tr("As cost: metres of plain ground"));
  every_ = number(tr("A ring every"), tr("m"), 0.5, 500, 1, 1);
  every_->setToolTip(tr("Rings at all multiples of this"));
  within_->setValue(25), every_->setValue(5);
  withArrows_ = new QCheckBox(tr("Arrows along the ways"));
  withArrows_->setChecked(true);
  column_->addWidget(withArrows_);
  headline_ = new QLabel;
  headline_->setWordWrap(true);
  column_->addWidget(headline_);
  table_ = new QLabel;
  table_->setTextFormat(Qt::RichText);
  column_->addWidget(table_);
  tool_ = std::make_unique<PlaceTool>(*this);
  connect(heading_, &QComboBox::activated, this, [this] { askAgain(); });
  connect(within_, &NumberField::edited, this, [this] { askAgain(); });
  connect(every_, &NumberField::edited, this, [this] { askAgain(); });
  connect(withArrows_, &QCheckBox::toggled, this, [this] { askAgain(); });
}

void DistancesPage::ask(const Vec3& at) {
  asked_ = at;
  askAgain();
}

struct DistancesPage::Shape {
  std::vector<route::Ring> rings;
  std::vector<Arrow> arrows;
};

DistancesPage::Shape DistancesPage::shapeOf(const route::Field& field, const nav::Place& at, route::Heading heading, double within,
                                            double every, bool arrows, Job& job) {
  const route::Distances distances(field, at, heading, within, job);
  Shape shape{route::ringsOf(field, distances, every, std::max(kFinest, within / kParts), job), {}};
  const int wanted = arrows ? std::min(kMostArrows, static_cast<int>(shape.rings.back().area / kArrowEvery)) : 0;
  for (const nav::Place& p : route::randomPlaces(field, distances, wanted, 1)) {
    Arrow& arrow = shape.arrows.emplace_back(Arrow{p.position, {}});
    (void)distances.at(p, &arrow.direction);
    if (heading == route::Heading::from) arrow.direction = -arrow.direction;
  }
  return shape;
}

/// What was shown stays until the answer is there, so that nothing flickers while a place is dragged about.
void DistancesPage::askAgain() {
  const auto ground = askedOf_ = workspace_.ground();
  const nav::Place at = ground && asked_ ? ground->locator().nearest(*asked_, kNear) : nav::Place{};
  if (!at.valid() || !ground->field->passable(at.face)) {
    question_.drop();
    rings_.clear(), arrows_.clear(), place_.reset();
    show();
    workspace_.bulletin().add(Topic::answers);
    return;
  }
  const auto heading = heading_->currentIndex() == 1 ? route::Heading::to : route::Heading::from;
  question_.ask([this, ground, at, heading, within = within_->value(), every = every_->value(),
                 arrows = withArrows_->isChecked()](Job& job) -> LatestQuestion::Answer {
    return [this, at, shape = shapeOf(*ground->field, at, heading, within, every, arrows, job)] {
      place_ = at.position, rings_ = shape.rings, arrows_ = shape.arrows;
      show();
      workspace_.bulletin().add(Topic::answers);
    };
  });
}

void DistancesPage::show() {
  table_->setVisible(place_.has_value());
  if (!workspace_.ground()) return headline_->setText(tr("There is no walkable ground to ask about yet."));
  if (!asked_) return headline_->setText(tr("Click a place in the world."));
  if (!place_) return headline_->setText(tr("There is no walkable ground at this place."));
  headline_->setText(tr("<b>%1 m²</b> within %2 m").arg(rings_.back().area, 0, 'f', 0).arg(rings_.back().distance, 0, 'f', 0));
  QString text = QStringLiteral("<table>");
  constexpr std::size_t kMostRows = 12;
  const std::size_t step = rings_.size() / kMostRows + 1;
  for (std::size_t i = 0; i < rings_.size(); i += step)
    text += QStringLiteral("<tr><td>%1&nbsp;&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>")
                .arg(tr("within %1 m").arg(rings_[i].distance, 0, 'f', 1), tr("%1 m²").arg(rings_[i].area, 0, 'f', 1));
  table_->setText(text + QStringLiteral("</table>"));
}

void DistancesPage::refresh(Topics) {
  if (asked_ && askedOf_ != workspace_.ground())
    askAgain();
  else
    show();
}

}  // namespace dune::window
