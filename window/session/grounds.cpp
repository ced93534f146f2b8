#include "window/session/grounds.h"

#include <QSettings>

#include "core/ground/chunk.h"
#include "window/scene/coarse.h"

namespace dune::window {

namespace {

constexpr const char* kPricesKey = "lastBuilds";  // on this machine

template <class T>
using Shared = std::shared_ptr<const T>;

}  // namespace

Grounds::Grounds(Background& work, Bulletin& bulletin) : work_(work), bulletin_(bulletin) {
  prices_ = BuildPrices::fromSettings(QSettings().value(kPricesKey).toStringList());
}

const Grounds::Known* Grounds::known(int kind) const {
  const auto found = known_.find(kind);
  return found == known_.end() ? nullptr : &found->second;
}

Shared<pipeline::Ground> Grounds::of(int kind) const { return known(kind) ? known(kind)->ground.value() : nullptr; }
Shared<level::Level> Grounds::standIn(int kind) const { return known(kind) ? known(kind)->standIn : nullptr; }
Shared<level::Level> Grounds::sketch(int kind) const { return known(kind) ? known(kind)->sketch : nullptr; }

const pipeline::Answers& Grounds::Known::said() const {
  static const pipeline::Answers kNothing;
  return answers ? *answers.value() : kNothing;
}

const pipeline::Answers& Grounds::answers(int kind) const {
  static const Known kNone;
  return (known(kind) ? *known(kind) : kNone).said();
}

Grounds::Map Grounds::all() const {
  Map all;
  for (const auto& [kind, known] : known_)
    if (known.ground) all[kind] = known.ground.value();
  return all;
}

bool Grounds::fresh(const project::Project& project, std::size_t agent, const Level& level) const {
  const Known* known = this->known(project.agents->agents[agent].id);
  return known && level && known->ground.fresh({project, agent, scope_, level->level, known->ground.value()});
}

bool Grounds::allFresh(const project::Project& project, const Level& level) const {
  for (std::size_t i = 0; i < project.agents->agents.size(); ++i)
    if (!fresh(project, i, level)) return false;
  return true;
}

void Grounds::drop() {
  known_.clear(), levelFindings_.clear();
  scope_ = {};
  bulletin_.add(Topic::ground);
}

void Grounds::keepOnly(const project::AgentsSection& kinds) {
  std::erase_if(known_, [&](const auto& entry) { return std::ranges::count(kinds.agents, entry.first, &project::AgentKind::id) == 0; });
}

void Grounds::build(const project::Project& project, const Level& level, std::size_t first) {
  struct Wanted {
    std::size_t agent;
    int kind;
    Known before;
  };
  std::vector<Wanted> order;
  const auto& agents = project.agents->agents;
  for (std::size_t i = 0; i < agents.size(); ++i) order.push_back({i, agents[i].id, known_[agents[i].id]});
  std::swap(order[0], order[first]);  // the one that is looked at first
  preparing_.drop();
  work_.start(this, [this, project, level, order, scope = scope_](Job& job, const Background::Tell& tell) {
    tell([this, found = pipeline::levelFindings(project, *level)] { levelFindings_ = found; });
    Shared<pipeline::Ground> last;
    std::optional<Problem> problem;
    for (const auto& [agent, kind, before] : order) {
      const auto& groundBefore = before.ground.value();
      // Of another agent's ground at least what is known of the level can be taken over.
      auto ground = pipeline::makeGround(project, level->level, agent, groundBefore ? groundBefore : last, job, scope);
      if (!ground) {
        problem = ground.problem();
        break;
      }
      last = *ground;
      Known now{last, std::make_shared<const pipeline::Answers>(pipeline::ask(project, last, kind, before.said(), &job)), before.standIn,
                before.sketch};
      if (last != groundBefore) {
        now.standIn = coarseGround(last->mesh, job);
        now.sketch = now.standIn ? coarserGround(*now.standIn, job) : nullptr;
      }
      tell([this, kind, now] { take(kind, now); });
    }
    tell([this, problem] {
      if (problem && problem->code != ProblemCode::cancelled) bulletin_.say(QString::fromStdString(problem->text()));
      prepare();
      emit finished(!problem);
    });
  });
}

/// For the questions that are asked by hand, which may come fast: after a build, beside whatever is done then. What cannot be prepared is
/// searched for.
void Grounds::prepare() {
  std::vector<Shared<pipeline::Ground>> grounds;
  for (const auto& [kind, known] : known_)
    if (known.ground) grounds.push_back(known.ground.value());
  constexpr std::size_t kMemory = std::size_t{64} << 20;  // bytes for each ground and measure: there may be several kinds of agent
  preparing_.ask([grounds](Job& job) -> LatestQuestion::Answer {
    job.setThreads(1);
    for (const route::Measure measure : {route::Measure::space, route::Measure::plan})
      for (const auto& ground : grounds)
        if (!job.cancelled()) (void)ground->field->prepare(measure, job, kMemory);
    return {};
  });
}

void Grounds::take(int kind, const Known& now) {
  const generate::Built& built = *now.ground->built;
  if (built.chunksMade > 0 && now.ground.value() != of(kind)) {
    prices_.learn(built.chunksMade, built.chunks.size(), built.survey->triangleCount(), built.seconds);
    QSettings().setValue(kPricesKey, prices_.toSettings());
  }
  known_[kind] = now;
  bulletin_.add({Topic::ground, Topic::answers});
  emit made(kind);
}

void Grounds::askAgain(const project::Project& project) {
  std::vector<Unexplained> slow;
  for (const project::AgentKind& kind : project.agents->agents) {
    const auto found = known_.find(kind.id);
    if (found == known_.end() || !found->second.ground) continue;
    Known& known = found->second;
    const Now now{project, 0, scope_, known.ground->source, known.ground.value()};
    if (!known.answers.fresh(now)) {
      known.answers = std::make_shared<const pipeline::Answers>(pipeline::ask(project, known.ground.value(), kind.id, answers(kind.id)));
      bulletin_.add(Topic::answers);
    }
    if (std::ranges::any_of(known.answers->routes, [](const pipeline::KeptAnswer& k) { return !k.explained; }))
      slow.push_back({kind.id, known.answers.value()});
  }
  if (!slow.empty()) explain(project, std::move(slow));
}

/// What would open partial ways takes time.
void Grounds::explain(const project::Project& project, std::vector<Unexplained> slow) {
  explaining_.ask([this, project, slow = std::move(slow)](Job& job) -> LatestQuestion::Answer {
    std::vector<Unexplained> whole;
    for (const auto& [kind, said] : slow)
      whole.push_back({kind, std::make_shared<const pipeline::Answers>(pipeline::ask(project, said->ground, kind, *said, &job))});
    return [this, slow, whole] {
      for (std::size_t i = 0; i < slow.size(); ++i)
        if (const auto known = known_.find(slow[i].kind); known != known_.end() && known->second.answers.value() == slow[i].answers)
          known->second.answers = whole[i].answers;
      bulletin_.add(Topic::answers);
      emit explained();
    };
  });
}

QString Grounds::price(int kind, const pipeline::LoadedLevel& level, const ground::Survey::Ahead& ahead) const {
  constexpr double kMiB = 1024 * 1024;
  double bytes = ahead.bytes, part = 1;
  std::size_t squares = ahead.chunks, triangles = level.level->triangleCount();
  if (const auto last = of(kind)) {
    const ground::Survey& survey = *last->built->survey;
    bytes = survey.memoryEstimate(), triangles = survey.triangleCount(), squares = 0;
    for (const generate::ChunkRecord& chunk : last->built->chunks)
      squares += generate::looksAt(scope_, ground::chunkBox(chunk.id, survey.chunkSize()), chunk.mesh.get());
    if (!last->built->chunks.empty()) part = static_cast<double>(squares) / static_cast<double>(last->built->chunks.size());
  }
  QString text = squares == 1 ? tr("1 square, ") : tr("%1 squares, ").arg(squares);
  if (const auto seconds = prices_.seconds(static_cast<double>(squares), static_cast<double>(triangles) * part))
    text += *seconds < 0.1 ? tr("less than 0.1 s, ") : tr("about %1 s, ").arg(*seconds, 0, 'f', 1);
  return text + (bytes < kMiB ? tr("less than 1 MiB") : tr("%1 MiB").arg(bytes / kMiB, 0, 'f', 0));
}

}  // namespace dune::window
