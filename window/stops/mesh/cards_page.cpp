#include "window/stops/mesh/cards_page.h"

namespace dune::window {

namespace {

/// Pins a card where one clicks.
class Probe : public Tool {
 public:
  explicit Probe(CardsPage& page) : page_(page) {}
  QString hint() const override {
    return QObject::tr(
        "Click a place to pin a card that says why there is, or is no, ground. Drag with the right button to turn the view.");
  }
  void press(const Pointer& p) override {
    if (p.hit) page_.pin(p.hit->at);
  }
  bool remove() override {
    if (page_.chosenCard() < 0) return false;
    page_.remove();
    return true;
  }

 private:
  CardsPage& page_;
};

}  // namespace

CardsPage::CardsPage(Workspace& workspace) : Sheet({}, workspace) {
  quiet(tr("Point anywhere: the line below the world says why. Click to pin the answer as a card; it is asked again after every build."));
  list_ = new QListWidget;
  list_->setAccessibleName(tr("Cards"));
  list_->setWordWrap(true);
  list_->setMinimumHeight(120);
  column_->addWidget(list_, 1);
  remove_ = button(tr("Remove card"), tr("Remove the chosen card (Delete)"));
  row({remove_});
  section(tr("Everything that stands against it"));
  answer_ = new QLabel;
  answer_->setWordWrap(true);
  answer_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  column_->addWidget(answer_);
  column_->addStretch(1);
  connect(remove_, &QPushButton::clicked, this, [this] { remove(); });
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    showAnswer();
    emit worldChanged();
  });
  connect(list_, &QListWidget::itemClicked, this, [this] {
    const auto& cards = workspace_.project().cards->cards;
    if (const auto card = std::ranges::find(cards, chosenCard(), &project::Card::id); card != cards.end()) emit showPlace(card->at);
  });
  tool_ = std::make_unique<Probe>(*this);
}

CardsPage::~CardsPage() = default;

Tool* CardsPage::tool() { return tool_.get(); }

int CardsPage::chosenCard() const { return list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toInt() : -1; }

void CardsPage::pin(const Vec3& at) {
  const int id = project::nextId(workspace_.project().cards->cards);
  workspace_.change(tr("Pin card"), [&](project::Project& p) {
    project::edit(p.cards, [&](project::CardsSection& s) { s.cards.push_back({id, at}); });
  });
  choose(id);
}

void CardsPage::choose(int id) {
  for (int i = 0; i < list_->count(); ++i)
    if (list_->item(i)->data(Qt::UserRole).toInt() == id) list_->setCurrentRow(i);
}

void CardsPage::remove() {
  const int id = chosenCard();
  workspace_.change(tr("Remove card"), [&](project::Project& p) {
    project::edit(p.cards, [&](project::CardsSection& s) { std::erase_if(s.cards, [&](const project::Card& c) { return c.id == id; }); });
  });
}

void CardsPage::showAnswer() {
  const auto& answers = workspace_.answers().cards;
  const auto answer = std::ranges::find(answers, chosenCard(), &pipeline::CardAnswer::id);
  remove_->setEnabled(chosenCard() >= 0);
  if (answer == answers.end())
    return answer_->setText(workspace_.project().cards->cards.empty() ? tr("No card yet.")
                            : workspace_.ground()                     ? tr("Choose a card.")
                                                                      : tr("Not built yet."));
  QString text = QString::fromStdString(answer->explanation.sentence);
  if (!answer->explanation.walkable()) {
    QStringList lines;
    for (const ground::Hindrance& h : answer->explanation.all)
      lines << tr("• %1: it would take %2.").arg(QString::fromStdString(h.clause), QString::fromStdString(h.change));
    text = lines.join(QLatin1Char('\n'));
  }
  if (!answer->before.empty()) text += QStringLiteral("\n\n") + tr("Before the last build: %1").arg(QString::fromStdString(answer->before));
  answer_->setText(text);
}

void CardsPage::refresh() {
  const int kept = chosenCard();
  {
    const QSignalBlocker blocker(list_);
    list_->clear();
    for (const project::Card& card : workspace_.project().cards->cards) {
      const auto& answers = workspace_.answers().cards;
      const auto answer = std::ranges::find(answers, card.id, &pipeline::CardAnswer::id);
      const QString text = answer == answers.end() ? tr("not asked yet") : QString::fromStdString(answer->explanation.sentence);
      const QString mark = answer != answers.end() && !answer->before.empty() ? tr(" (changed)") : QString();
      auto* item = new QListWidgetItem(tr("%1%2  %3").arg(card.id).arg(mark, text));
      item->setData(Qt::UserRole, card.id);
      list_->addItem(item);
    }
    choose(kept);
  }
  showAnswer();
}

}  // namespace dune::window
