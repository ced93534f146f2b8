#include "window/shell/cut_away.h"

#include <QVBoxLayout>
#include <cmath>

#include "window/scene/world_view.h"

namespace dune::window {

namespace {
constexpr double kSteps = 20;  // of the slider, a metre
}  // namespace

CutAway::CutAway() {
  slider_ = new QSlider(Qt::Vertical);
  slider_->setAccessibleName(tr("Cut-away height"));
  slider_->setToolTip(tr("Cut-away: takes off everything above a height"));
  slider_->setEnabled(false);
  label_ = new QLabel;
  label_->setAlignment(Qt::AlignCenter);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(2, 6, 2, 6);
  column->addWidget(slider_, 1, Qt::AlignHCenter);
  column->addWidget(label_);
  connect(slider_, &QSlider::valueChanged, this, &CutAway::tell);
}

void CutAway::tell() {
  const int v = slider_->value();
  const bool off = v >= slider_->maximum();
  label_->setText(off ? tr("all") : tr("%1 m").arg(v / kSteps, 0, 'f', 1));
  emit changed(off ? kNoCutAway : v / kSteps);
}

void CutAway::setRange(const Box3& box, bool keep) {
  const bool kept = keep && slider_->isEnabled() && slider_->value() < slider_->maximum();
  const int cut = slider_->value();
  slider_->setEnabled(true);
  slider_->setRange(static_cast<int>(std::floor(box.min.y * kSteps)), static_cast<int>(std::ceil(box.max.y * kSteps)) + 1);
  slider_->setValue(kept ? cut : slider_->maximum());
  tell();
}

void CutAway::setHeight(double y) { slider_->setValue(static_cast<int>(std::ceil(y * kSteps))); }

}  // namespace dune::window
