#include "window/stops/mesh/cards_picture.h"

#include <algorithm>

#include "window/scene/theme.h"

namespace dune::window {

DrawList cardsLayer(const project::CardsSection& cards, const std::vector<pipeline::CardAnswer>& answers, int chosen,
                    std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 3e-4;
  for (const project::Card& card : cards.cards) {
    const auto answer = std::ranges::find(answers, card.id, &pipeline::CardAnswer::id);
    const bool known = answer != answers.end();
    const QColor colour = card.id == chosen                ? theme().accent
                          : !known                         ? theme().quiet
                          : answer->explanation.walkable() ? theme().good
                                                           : theme().bad;
    const Vec3 foot = raised(card.at), head = foot + Vec3{0, 1.1, 0};
    list.line(foot, head, 2.5, packed(colour, 1));
    list.disc(foot, 0.14, packed(colour, 1));
    list.picks.push_back({thing(ThingKind::card, card.id), {foot, head}});
    if (!known) continue;
    const bool walkable = answer->explanation.walkable();
    QString text = QString::fromStdString(answer->explanation.decides.brief);  // the mark says whether that is enough
    constexpr int kMost = 46;                                                  // letters; the whole sentence is in the sheet
    if (text.size() > kMost) text = text.left(kMost - 1).trimmed() + QStringLiteral("…");
    labels.push_back({head,
                      QStringLiteral("%1 %2 %3").arg(card.id).arg(walkable ? QStringLiteral("✓") : QStringLiteral("✕"), text) +
                          (answer->before.empty() ? QString() : QObject::tr(" – changed")),
                      colour});
  }
  return list;
}

}  // namespace dune::window
