#include "window/stops/mesh/cards_page.h"

#include "window/session/hand_made.h"

namespace dune::window {

namespace {

/// Pins a card where one clicks, or chooses the one that is there; beside the level there is nothing to ask.
class Probe : public Tool {
 public:
  explicit Probe(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override {
    return QObject::tr(
        "Click a place to pin a card that says why there is, or is no, ground. Drag with the right button to turn the view.");
  }
  bool press(const Pointer& p) override {
    if (p.thing && p.thing->kind == ThingKind::card) return false;
    if (!p.hit) {
      workspace_.bulletin().say(QObject::tr("Nothing to stand on here: no part of the level is under the mouse."));
      return false;
    }
    add(workspace_, project::Card{0, p.hit->at});
    return true;
  }

 private:
  Workspace& workspace_;
};

}  // namespace

CardsPage::CardsPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("Point anywhere: the line below the world says why. Click to pin the answer as a card; it is asked again after every build."));
  list_ = list(tr("Cards"), ThingKind::card);
  remove_ = button(tr("Remove card"), tr("Remove the chosen card (Delete)"));
  row({remove_});
  section(tr("Everything that stands against it"));
  answer_ = new QLabel;
  answer_->setWordWrap(true);
  answer_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  column_->addWidget(answer_);
  connect(remove_, &QPushButton::clicked, this, [this] { removeChosen(workspace_, ThingKind::card); });
  connect(list_, &ItemList::chosen, this, [this](const std::string&) {
    if (const project::Card* card = chosenCard(workspace_)) emit showPlace(card->at);
  });
  tool_ = std::make_unique<Probe>(workspace_);
}

CardsPage::~CardsPage() = default;

Tool* CardsPage::tool() { return tool_.get(); }

void CardsPage::showAnswer() {
  const auto& answers = workspace_.answers().cards;
  const project::Card* card = chosenCard(workspace_);
  const auto answer = std::ranges::find(answers, card ? card->id : -1, &pipeline::CardAnswer::id);
  remove_->setEnabled(card);
  if (answer == answers.end())
    return answer_->setText(workspace_.project().cards->cards.empty() ? tr("No card yet.")
                            : workspace_.ground()                     ? tr("Choose a card.")
                                                                      : tr("Not built yet."));
  QString text = QString::fromStdString(answer->explanation.sentence);
  if (!answer->explanation.walkable()) {
    QStringList lines;
    for (const ground::Hindrance& h : answer->explanation.all)
      lines << tr("• %1: it would take %2.").arg(QString::fromStdString(h.clause()), QString::fromStdString(h.change));
    text = lines.join(QLatin1Char('\n'));
  }
  if (!answer->before.empty()) text += QStringLiteral("\n\n") + tr("Before the last build: %1").arg(QString::fromStdString(answer->before));
  answer_->setText(text);
}

void CardsPage::refresh(Topics) {
  const auto& answers = workspace_.answers().cards;
  std::vector<ItemRow> rows;
  for (const project::Card& card : workspace_.project().cards->cards) {
    const auto answer = std::ranges::find(answers, card.id, &pipeline::CardAnswer::id);
    const QString text = answer == answers.end() ? tr("not asked yet") : QString::fromStdString(answer->explanation.sentence);
    const QString mark = answer != answers.end() && !answer->before.empty() ? tr(" (changed)") : QString();
    rows.push_back({std::to_string(card.id), tr("%1%2  %3").arg(card.id).arg(mark, text)});
  }
  list_->setRows(std::move(rows));
  showAnswer();
}

}  // namespace dune::window
