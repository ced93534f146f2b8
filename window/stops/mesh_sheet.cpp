#include "window/stops/mesh_sheet.h"

namespace dune::window {

MeshSheet::MeshSheet(Workspace& workspace) : Sheet(tr("Mesh"), workspace) {
  build_ = button(tr("Build"), tr("Build the walkable ground (Ctrl+B)"));
  build_->setObjectName(QStringLiteral("primary"));
  cancel_ = button(tr("Cancel"), tr("Stop building"));
  row({build_, cancel_});
  connect(build_, &QPushButton::clicked, this, [this] { workspace_.build(); });
  connect(cancel_, &QPushButton::clicked, this, [this] { workspace_.cancel(); });
  always_ = new QCheckBox(tr("Build after every change"));
  column_->addWidget(always_);
  connect(always_, &QCheckBox::toggled, this, [this](bool on) { workspace_.setAutoBuild(on); });
  state_ = new QLabel;
  state_->setWordWrap(true);
  column_->addWidget(state_);
  section(tr("Walkable ground"));
  numbers_ = new QLabel;
  numbers_->setTextFormat(Qt::RichText);
  column_->addWidget(numbers_);
  quiet(
      tr("Point anywhere in the world: the line below it says whether the agent can stand there, and if not, why, in numbers. Slopes, "
         "steps and headroom are measured on the level's own triangles."));
  export_ = button(tr("Export mesh…"), tr("Write a .dsmesh, .json, .obj or .glb file"));
  row({export_});
  connect(export_, &QPushButton::clicked, this, &MeshSheet::exportAsked);
  column_->addStretch(1);
}

void MeshSheet::refresh() {
  const auto ground = workspace_.ground();
  build_->setEnabled(workspace_.level() != nullptr && !workspace_.building());
  cancel_->setEnabled(workspace_.building());
  export_->setEnabled(ground != nullptr);
  const QSignalBlocker blocker(always_);
  always_->setChecked(workspace_.autoBuild());
  if (workspace_.building())
    state_->setText(tr("Building: %1").arg(workspace_.step()));
  else if (!workspace_.level())
    state_->setText(tr("There is no level to build from yet."));
  else if (!ground)
    state_->setText(tr("Not built yet."));
  else if (!workspace_.groundFresh())
    state_->setText(tr("Out of date: something changed since the last build."));
  else
    state_->setText(tr("Up to date, built in %1 s.").arg(ground->built->seconds, 0, 'f', 2));
  if (!ground) {
    numbers_->setText(tr("–"));
    return;
  }
  const mesh::NavMesh& m = ground->mesh;
  auto line = [](const QString& name, const QString& value) {
    return QStringLiteral("<tr><td>%1&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>").arg(name, value);
  };
  numbers_->setText(QStringLiteral("<table>") + line(tr("Area"), tr("%1 m²").arg(mesh::totalArea(m), 0, 'f', 1)) +
                    line(tr("Faces"), QString::number(m.faceCount())) + line(tr("Corners"), QString::number(m.vertices.size())) +
                    line(tr("Islands"), QString::number(mesh::islandCount(m))) +
                    line(tr("Level triangles"), QString::number(ground->built->survey->triangleCount())) + QStringLiteral("</table>"));
}

}  // namespace dune::window
