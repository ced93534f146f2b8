#include "window/stops/crowd/steering_fields.h"

#include <QVBoxLayout>

namespace dune::window {

namespace {

/// "turn-limit" is "Turn limit".
QString titleOf(const char* name) {
  QString title = QString::fromLatin1(name).replace('-', ' ');
  title[0] = title[0].toUpper();
  return title;
}

int decimalsOf(const crowd::Parameter& p) { return p.whole || p.step >= 1 ? 0 : p.step >= 0.1 ? 1 : 2; }

}  // namespace

QString steeringTitle(crowd::Steering model) { return titleOf(crowd::steeringName(model)); }

SteeringFields::SteeringFields(const QString& name) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(5);
  model_ = new QComboBox;
  model_->setAccessibleName(tr("How %1 steers").arg(name));
  for (std::size_t i = 0; i < crowd::kSteerings; ++i) model_->addItem(steeringTitle(static_cast<crowd::Steering>(i)));
  column->addWidget(model_);
  says_ = new QLabel;
  says_->setObjectName(QStringLiteral("quiet"));
  says_->setWordWrap(true);
  column->addWidget(says_);
  connect(model_, &QComboBox::activated, this, [this](int i) {
    settings_.model = static_cast<crowd::Steering>(i);
    show(settings_);
    emit edited(settings_, {});
  });
  for (const crowd::Parameter& p : crowd::parameters()) {
    auto* field = new NumberField(titleOf(p.name), tr(p.unit), p.least, p.most, p.step, decimalsOf(p));
    field->setToolTip(tr(p.says));
    column->addWidget(field);
    fields_.push_back(field);
    connect(field, &NumberField::edited, this, [this, &p](double v) {
      settings_.*p.value = v;
      emit edited(settings_, QString::fromLatin1(p.name));
    });
    connect(field, &NumberField::finished, this, &SteeringFields::finished);
  }
}

void SteeringFields::show(const crowd::SteeringSettings& settings) {
  settings_ = settings;
  model_->setCurrentIndex(static_cast<int>(settings.model));
  says_->setText(tr(crowd::steeringSays(settings.model)));
  const auto parameters = crowd::parameters();
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    fields_[i]->setValue(settings.*parameters[i].value);
    fields_[i]->setVisible(parameters[i].usedBy(settings.model));
  }
}

}  // namespace dune::window
