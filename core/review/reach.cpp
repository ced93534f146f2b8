#include "core/review/reach.h"

#include <algorithm>
#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/breadth_first_search.hpp>
#include <boost/graph/connected_components.hpp>
#include <boost/graph/reverse_graph.hpp>
#include <boost/graph/strong_components.hpp>

namespace dune::review {

namespace {

using nav::FaceId;
using Ways = boost::adjacency_list<boost::vecS, boost::vecS, boost::bidirectionalS>;

void findPieces(const nav::NavMesh& mesh, const nav::Rules& rules, Reach& reach) {
  nav::Pieces pieces = nav::piecesOf(mesh, [&](FaceId f) { return rules.passable(mesh, f); });
  reach.pieceOf = std::move(pieces.of);
  reach.pieces.resize(pieces.count);
  std::vector<double> largest(pieces.count, -1);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const std::uint32_t number = reach.pieceOf[f];
    if (number == nav::kNoPiece) continue;
    const double area = nav::faceArea(mesh, FaceId{f});
    reach.pieces[number].area += area;
    if (area > largest[number]) largest[number] = area, reach.pieces[number].at = nav::middleOf(mesh, FaceId{f});
  }
}

Ways waysOver(const nav::NavMesh& mesh, const nav::Rules& rules, const Reach& reach) {
  Ways ways(reach.pieces.size());
  for (const nav::Link& link : mesh.links) {
    const std::uint32_t from = reach.pieceOf[index(link.fromFace)], to = reach.pieceOf[index(link.toFace)];
    if (!rules.allows(link) || from == to || from == nav::kNoPiece || to == nav::kNoPiece) continue;
    boost::add_edge(from, to, ways);
    if (!link.oneWay) boost::add_edge(to, from, ways);
  }
  return ways;
}

template <class Graph>
auto numbersIn(std::vector<std::uint32_t>& numbers, const Graph& graph) {
  return boost::make_iterator_property_map(numbers.begin(), get(boost::vertex_index, graph));
}

/// What is together, whichever way links go.
void join(const Ways& ways, std::vector<Piece>& pieces) {
  boost::adjacency_list<boost::vecS, boost::vecS, boost::undirectedS> both(pieces.size());
  for (const auto& e : boost::make_iterator_range(boost::edges(ways)))
    boost::add_edge(boost::source(e, ways), boost::target(e, ways), both);
  std::vector<std::uint32_t> together(pieces.size());
  boost::connected_components(both, numbersIn(together, both));
  for (std::size_t i = 0; i < pieces.size(); ++i) pieces[i].together = together[i];
}

/// A piece of the largest ground within which one can go from anywhere to anywhere.
std::size_t mainPiece(const Ways& ways, const std::vector<Piece>& pieces) {
  std::vector<std::uint32_t> group(pieces.size());
  const auto count = static_cast<std::size_t>(boost::strong_components(ways, numbersIn(group, ways)));
  std::vector<double> area(count, 0);
  for (std::size_t i = 0; i < pieces.size(); ++i) area[group[i]] += pieces[i].area;
  const auto largest = static_cast<std::uint32_t>(std::ranges::max_element(area) - area.begin());
  return static_cast<std::size_t>(std::ranges::find(group, largest) - group.begin());
}

template <class Graph>
std::vector<char> visitedFrom(std::size_t piece, const Graph& graph, std::size_t count) {
  std::vector<boost::default_color_type> colour(count, boost::white_color);
  boost::breadth_first_visit(graph, piece,
                             boost::color_map(boost::make_iterator_property_map(colour.begin(), get(boost::vertex_index, graph))));
  std::vector<char> visited(count);
  for (std::size_t i = 0; i < count; ++i) visited[i] = colour[i] != boost::white_color;
  return visited;
}

}  // namespace

Reach reachOf(const nav::NavMesh& mesh, const nav::Rules& rules) {
  Reach reach;
  findPieces(mesh, rules, reach);
  if (reach.pieces.empty()) return reach;
  const Ways ways = waysOver(mesh, rules, reach);
  join(ways, reach.pieces);
  const std::size_t main = mainPiece(ways, reach.pieces);
  const auto reached = visitedFrom(main, ways, reach.pieces.size());
  const auto left = visitedFrom(main, boost::make_reverse_graph(ways), reach.pieces.size());
  for (std::size_t i = 0; i < reach.pieces.size(); ++i) reach.pieces[i].reached = reached[i] != 0, reach.pieces[i].left = left[i] != 0;
  reach.main = reach.pieces[main].together;
  return reach;
}

}  // namespace dune::review
