#include "window/stops/review/review_sheet.h"

#include <map>

namespace dune::window {

namespace {

class PickAgent : public Tool {
 public:
  explicit PickAgent(ReviewSheet& sheet) : sheet_(sheet) {}
  QString hint() const override { return QObject::tr("Choose a finding on the right to go there, or click an agent to follow it."); }
  void press(const Pointer& p) override { emit sheet_.agentPicked(p); }

 private:
  ReviewSheet& sheet_;
};

const std::map<std::string, QString> kNames{{"wall-touched", QObject::tr("Walls touched")},
                                            {"left-ground", QObject::tr("Left the ground")},
                                            {"overlap", QObject::tr("Overlaps")},
                                            {"stuck", QObject::tr("Stuck")},
                                            {"never-arrives", QObject::tr("Never arrived")},
                                            {"island", QObject::tr("Islands")},
                                            {"broken-link", QObject::tr("Broken links")},
                                            {"link-beyond", QObject::tr("Links not for the agent")},
                                            {"empty-mesh", QObject::tr("Empty mesh")},
                                            {"no-ground", QObject::tr("Nothing is ground")},
                                            {"ignored-on-ground", QObject::tr("Ignored objects")},
                                            {"mark-without-object", QObject::tr("Marks without object")},
                                            {"rule-without-object", QObject::tr("Rules without object")},
                                            {"units", QObject::tr("Units of files")}};

}  // namespace

ReviewSheet::ReviewSheet(Workspace& workspace) : Sheet(tr("Review"), workspace) {
  quiet(tr("What is wrong with the mesh and with the recorded movement, measured."));
  section(tr("Found"));
  counts_ = new QLabel;
  counts_->setTextFormat(Qt::RichText);
  column_->addWidget(counts_);
  section(tr("Chosen agent"));
  agent_ = new QLabel;
  agent_->setTextFormat(Qt::RichText);
  agent_->setWordWrap(true);
  column_->addWidget(agent_);
  section(tr("Shown in the world"));
  wanted_ = new QCheckBox(tr("Velocities that were wanted"));
  column_->addWidget(wanted_);
  connect(wanted_, &QCheckBox::toggled, this, &Sheet::worldChanged);
  report_ = button(tr("Save recorded movement…"), tr("Write the run as a CSV trace"));
  row({report_});
  connect(report_, &QPushButton::clicked, this, &ReviewSheet::reportAsked);
  column_->addStretch(1);
  tool_ = std::make_unique<PickAgent>(*this);
}

void ReviewSheet::refresh() {
  std::map<std::string, int> count;
  for (const review::Finding& f : workspace_.findings()) ++count[f.code];
  QString text = QStringLiteral("<table>");
  for (const auto& [code, n] : count) {
    const auto name = kNames.find(code);
    text += QStringLiteral("<tr><td>%1&nbsp;&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>")
                .arg(name == kNames.end() ? QString::fromStdString(code) : name->second)
                .arg(n);
  }
  counts_->setText(count.empty() ? tr("Nothing so far.") : text + QStringLiteral("</table>"));
  report_->setEnabled(workspace_.run() != nullptr);
  if (!workspace_.run()) agent_->setText(tr("Nothing is recorded yet: run the crowd first."));
}

void ReviewSheet::showAgent(int agent, std::size_t frame) {
  const auto run = workspace_.run();
  if (!run || run->trace.frameCount() == 0) return;
  const trace::Trace& t = run->trace;
  const auto body = t.bodyOf(agent);
  if (!body) {
    agent_->setText(tr("None. Click an agent to follow it."));
    return;
  }
  frame = std::min(frame, t.frameCount() - 1);
  const trace::Sample s = t.at(frame, *body);
  agent_->setText(tr("<b>Agent %1</b>, %2<br>speed %3 m/s, wanted %4 m/s<br>%5 m from the nearest wall")
                      .arg(agent)
                      .arg(tr(crowd::stateName(s.state)))
                      .arg(glm::length(s.velocity), 0, 'f', 2)
                      .arg(glm::length(s.wanted), 0, 'f', 2)
                      .arg(run->wallDistance[frame * t.bodies().size() + *body], 0, 'f', 2));
}

}  // namespace dune::window
