#include "window/stops/review/review_sheet.h"

#include <QFileInfo>
#include <QFormLayout>
#include <map>

#include "core/review/kinds.h"

namespace dune::window {

namespace {

/// Only says what to do: bodies are chosen as everything that is drawn is.
class PickAgent : public Tool {
 public:
  QString hint() const override { return QObject::tr("Choose a finding on the right to go there, or click an agent to follow it."); }
  bool press(const Pointer&) override { return false; }
};

}  // namespace

ReviewSheet::ReviewSheet(Workspace& workspace) : Sheet(tr("Review"), workspace) {
  section(tr("Movement"));
  source_ = new QLabel;
  source_->setTextFormat(Qt::RichText);
  source_->setWordWrap(true);
  column_->addWidget(source_);
  report_ = button(tr("Save…"), tr("Write the run as a CSV trace"));
  auto* open = button(tr("Open recording…"), tr("Look at movement that a game recorded: a table or JSON lines with t, id, x, y, z"));
  connect(open, &QPushButton::clicked, this, [this] { emit asked(Request::openTrace); });
  row({open, report_});
  connect(report_, &QPushButton::clicked, this, [this] { emit asked(Request::saveTrace); });
  reading_ = button(tr("How it is read…"), tr("Which column is what, units, and which axis is up"));
  connect(reading_, &QPushButton::clicked, this, [this] { emit asked(Request::readTrace); });
  column_->addWidget(reading_);
  several_ = new QWidget;
  auto* form = new QFormLayout(several_);
  form->setContentsMargins(0, 0, 0, 0);
  runs_ = new QComboBox, others_ = new QComboBox;
  runs_->setAccessibleName(tr("The run that is looked at"));
  others_->setAccessibleName(tr("The run beside it"));
  for (QComboBox* box : {runs_, others_}) box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  form->addRow(tr("Look at"), runs_);
  form->addRow(tr("Beside it"), others_);
  column_->addWidget(several_);
  connect(runs_, &QComboBox::activated, this, [this](int i) { workspace_.showRun(runAt(i)); });
  connect(others_, &QComboBox::activated, this, [this](int i) { workspace_.compareRun(i > 0 ? runAt(i - 1) : nullptr); });
  section(tr("Chosen agent"));
  agent_ = new QLabel;
  agent_->setTextFormat(Qt::RichText);
  agent_->setWordWrap(true);
  column_->addWidget(agent_);
  section(tr("Shown in the world"));
  wanted_ = new QCheckBox(tr("Velocities that were wanted"));
  column_->addWidget(wanted_);
  connect(wanted_, &QCheckBox::toggled, this, [this] { workspace_.bulletin().add(Topic::playback); });
  heat_ = new QComboBox;
  heat_->addItems({tr("Ground as it is"), tr("Ground by where they were"), tr("Ground by where they were slow"),
                   tr("Ground by where they stood"), tr("Ground by where they brushed walls")});
  heat_->setAccessibleName(tr("What the ground is shaded by"));
  column_->addWidget(heat_);
  connect(heat_, &QComboBox::activated, this, [this] { workspace_.bulletin().add(Topic::stop); });
  mostHeat_ = quiet({});
  mostHeat_->hide();
  section(tr("Found"));
  counts_ = new QLabel;
  counts_->setTextFormat(Qt::RichText);
  column_->addWidget(counts_);
  tool_ = std::make_unique<PickAgent>();
}

/// What is looked at: the crowd's run, or what was recorded elsewhere.
void ReviewSheet::showSource() {
  const auto run = workspace_.run();
  report_->setEnabled(run != nullptr);
  if (!run) return source_->setText(tr("No movement yet: run the crowd, or open a recording."));
  const trace::Trace& t = run->trace;
  const QString what = run->recording.empty()
                           ? run->scene.empty() ? tr("The crowd's run") : tr("The run of %1").arg(QString::fromStdString(run->scene))
                           : QFileInfo(QString::fromStdString(run->recording)).fileName();
  source_->setText(tr("<b>%1</b>: %2 agents, %3 s, %4 samples")
                       .arg(what.toHtmlEscaped())
                       .arg(t.bodies().size())
                       .arg(t.frameCount() > 0 ? t.duration() - t.timeOf(0) : 0, 0, 'f', 1)
                       .arg(t.sampleCount()) +
                   (run->reading == trace::Reading{} || run->recording.empty()
                        ? QString()
                        : tr("<br>read %1").arg(QString::fromStdString(trace::wordsOf(run->reading)).toHtmlEscaped())));
}

std::shared_ptr<const pipeline::Run> ReviewSheet::runAt(int index) const {
  return workspace_.crowd().kept()[static_cast<std::size_t>(index)].run;
}

void ReviewSheet::showRuns() {
  const CrowdRuns& crowd = workspace_.crowd();
  several_->setVisible(crowd.kept().size() > 1);
  const auto run = workspace_.run();
  reading_->setVisible(run && !run->recording.empty() && !run->recording.ends_with(".dstrace"));
  runs_->clear(), others_->clear();
  others_->addItem(tr("nothing"));
  for (const CrowdRuns::Kept& k : crowd.kept()) {
    runs_->addItem(k.name), others_->addItem(k.name);
    if (k.run == run) runs_->setCurrentIndex(runs_->count() - 1);
    if (k.run == crowd.compared()) others_->setCurrentIndex(others_->count() - 1);
  }
}

void ReviewSheet::showMostHeat(double seconds) {
  mostHeat_->show();
  mostHeat_->setText(seconds > 0 ? tr("Darkest: %1 s, of all agents together, on a square of half a metre.").arg(seconds, 0, 'f', 1)
                                 : tr("Nowhere."));
}

void ReviewSheet::showCounts() {
  std::map<std::string, int> count;
  for (const KeptFinding& f : workspace_.findings().all()) ++count[f.finding.code];
  QString text = QStringLiteral("<table>");
  for (const review::FindingKind& kind : review::findingKinds())
    if (const auto found = count.find(std::string(kind.code)); found != count.end())
      text += QStringLiteral("<tr><td>%1&nbsp;&nbsp;&nbsp;</td><td align=right><b>%2</b></td></tr>").arg(tr(kind.title)).arg(found->second);
  counts_->setText(count.empty() ? tr("Nothing so far.") : text + QStringLiteral("</table>"));
}

void ReviewSheet::showFollowed() {
  const Playback& playback = workspace_.playback();
  const auto& run = playback.run();
  if (!run || run->trace.frameCount() == 0) return agent_->setText(tr("None yet."));
  const trace::Trace& t = run->trace;
  if (const std::size_t several = playback.bodies().size(); several > 1)
    return agent_->setText(tr("<b>%1 agents</b>; their curves stand in the lanes below.").arg(several));
  const auto body = t.bodyOf(playback.body());
  if (!body) return agent_->setText(tr("None. Click an agent to follow it."));
  const std::size_t frame = std::min(playback.frame(), t.frameCount() - 1);
  const trace::Sample s = t.at(frame, *body);
  agent_->setText(tr("<b>Agent %1</b>, %2<br>speed %3 m/s, wanted %4 m/s<br>%5 m from the nearest wall")
                      .arg(playback.body())
                      .arg(tr(crowd::stateName(s.state)))
                      .arg(glm::length(s.velocity), 0, 'f', 2)
                      .arg(glm::length(s.wanted), 0, 'f', 2)
                      .arg(run->wallDistance[frame * t.bodies().size() + *body], 0, 'f', 2));
}

void ReviewSheet::refresh(Topics changed) {
  if (changed & (Topic::findings | Topic::stop)) showCounts();
  if (changed & (Topic::run | Topic::stop)) showSource(), showRuns();
  showFollowed();
}

}  // namespace dune::window
