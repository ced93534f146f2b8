// Metres; x to the east, z to the south, ground level at 0. The yard is 60 m by 44 m, cut by a dry canal from west to east.

#include "demo/depot.h"

namespace dune::demo {

namespace {

void yard(GlbWriter& w) {
  w.box("sand_north", {0, -3, 0}, {60, 0, 20});
  w.box("sand_south", {0, -3, 25}, {60, 0, 44});
  w.box("sand_west", {0, -3, 20}, {2, 0, 25});
  w.box("canal_bed", {8, -3, 20}, {60, -2.2, 25});
  w.wedgeX("canal_ramp", {2, -3, 20}, {8, 0, 25}, -2.2, -1);
  w.box("footbridge", {28, -0.15, 19.6}, {30.2, 0.06, 25.4});
  w.box("culvert_deck", {50, -1, 20}, {53, 0, 25});
  w.box("wall_north", {0, 0, -0.4}, {60, 2.4, 0});
  w.box("wall_south", {0, 0, 44}, {60, 2.4, 44.4});
  w.box("wall_west", {-0.4, 0, -0.4}, {0, 2.4, 44.4});
  w.box("wall_east", {60, -3, -0.4}, {60.4, 2.4, 44.4});
}

void terraces(GlbWriter& w) {
  w.box("terrace_low", {3, 0, 3}, {16, 0.9, 11});
  w.box("terrace_high", {3, 0.9, 3}, {11, 1.8, 8});
  w.stairsZ("steps_low", {9, 0, 12.5}, -1, 5, 0.18, 0.3, 2);
  w.stairsZ("steps_high", {6, 0.9, 9.5}, -1, 5, 0.18, 0.3, 2);
  w.cylinder("cistern", {6, 1.8, 5}, 1.4, 0.9, 16);
}

void kilns(GlbWriter& w) {
  for (int i = 0; i < 3; ++i) w.cylinder("kiln_" + std::to_string(i + 1), {44.0 + 5 * i, 0, 5.5}, 1.7, 3, 14);
  w.box("kiln_wall_1", {40, 0, 10}, {45.5, 1.6, 10.3});
  w.box("kiln_wall_2", {47.1, 0, 10}, {57, 1.6, 10.3});
  // An arch over the gap, just wide enough for the glider.
  w.box("kiln_arch_1", {45.1, 1.6, 10}, {45.5, 2.5, 10.3});
  w.box("kiln_arch_2", {47.1, 1.6, 10}, {47.5, 2.5, 10.3});
  w.box("kiln_arch_3", {45.1, 2.5, 10}, {47.5, 2.8, 10.3});
  const double crates[][4] = {{42, 12.6, 1.1, 0.9}, {43.4, 12.9, 1, 0.9}, {49, 13.5, 1.2, 1.1}, {52.5, 12.2, 1, 0.8},
                              {53.7, 12.4, 1, 1.3}, {37.2, 3.1, 1.3, 1},  {56, 17, 1.2, 1.2},   {33.5, 16.2, 1.4, 0.9}};
  int n = 0;
  for (const auto& c : crates) w.box("crate_" + std::to_string(++n), {c[0], 0, c[1]}, {c[0] + c[2], c[3], c[1] + c[2]});
  w.box("wind_tower", {33, 0, 5}, {36, 12, 8});
  w.box("kerb", {24, 0, 14}, {38, 0.14, 14.6});
}

void lane(GlbWriter& w) {
  w.box("stall_north", {19.5, 0, 4}, {28, 2.6, 7});
  w.box("stall_south", {19.5, 0, 7.9}, {28, 2.6, 11});
  w.box("awning", {20, 2.3, 6.8}, {27.5, 2.4, 8.1});
  w.cylinder("pot_1", {30.3, 0, 9.6}, 0.45, 0.8, 10);
  w.cylinder("pot_2", {18, 0, 13}, 0.5, 0.8, 10);
}

void store(GlbWriter& w) {
  w.box("store_wall_west", {3, 0, 28}, {3.3, 2.8, 38});
  w.box("store_wall_north", {3.3, 0, 28}, {13, 2.8, 28.3});
  w.box("store_wall_south", {3.3, 0, 37.7}, {13, 2.8, 38});
  w.box("store_wall_east_1", {12.7, 0, 28.3}, {13, 2.8, 31.5});
  w.box("store_wall_east_2", {12.7, 0, 33}, {13, 2.8, 37.7});
  w.box("store_roof", {3, 2.8, 28}, {13, 3, 38});
  w.box("store_shelf_1", {5, 0, 30}, {9.5, 2, 30.8});
  w.box("store_shelf_2", {5, 0, 34}, {9.5, 2, 34.8});
  w.stairsX("store_stair", {12.6, 0, 26.4}, -1, 15, 0.2, 0.28, 1.6);
  w.box("store_landing", {6.4, 2.8, 26.4}, {8.4, 3, 28});
  w.box("parapet_west", {3, 3, 28}, {3.2, 3.9, 38});
  w.box("parapet_south", {3.2, 3, 37.8}, {13, 3.9, 38});
  w.box("annex", {14.4, 0, 30.5}, {18.4, 2.8, 36.5});
}

void south(GlbWriter& w) {
  w.box("pan_rim_1", {38, 0, 28}, {56, 0.1, 28.3});
  w.box("pan_rim_2", {38, 0, 36}, {56, 0.1, 36.3});
  w.box("pan_rim_3", {46.8, 0, 28.3}, {47.1, 0.1, 36});
  w.cylinder("salt_heap_1", {41.5, 0, 39.5}, 1.2, 1.4, 12);
  w.cylinder("salt_heap_2", {45, 0, 40.6}, 0.9, 1.1, 12);
  w.wedgeX("loading_ramp", {32, 0, 38}, {35.5, 1.2, 40.5}, 0, 1);
  w.box("loading_dock", {35.5, 0, 37.5}, {38.5, 1.2, 41.5});
  w.box("sign", {23.5, 0, 41}, {23.6, 2.5, 43});
}

/// Its doorway is 0.64 m wide, and Porters need 0.70 m.
void shed(GlbWriter& w) {
  w.box("shed_wall_west", {48, 0, 37.2}, {48.2, 2.4, 41.2});
  w.box("shed_wall_east", {51.8, 0, 37.2}, {52, 2.4, 41.2});
  w.box("shed_wall_north", {48.2, 0, 37.2}, {51.8, 2.4, 37.4});
  w.box("shed_wall_south_1", {48.2, 0, 41}, {49.68, 2.4, 41.2});
  w.box("shed_wall_south_2", {50.32, 0, 41}, {51.8, 2.4, 41.2});
  w.box("shed_roof", {48, 2.4, 37.2}, {52, 2.6, 41.2});
}

Polygon outline(const std::vector<Vec2>& xz) {
  Polygon polygon;
  for (const Vec2& p : xz) polygon.push_back({p.x, -p.y});
  return polygon;
}

template <class T>
std::shared_ptr<const T> shared(T value) {
  return std::make_shared<const T>(std::move(value));
}

}  // namespace

GlbWriter depotLevel() {
  GlbWriter writer;
  yard(writer);
  terraces(writer);
  kilns(writer);
  lane(writer);
  store(writer);
  south(writer);
  shed(writer);
  return writer;
}

namespace {

/// What the yard is for, as tests of its ground; the way to the canal's end is one of the demo's mistakes.
project::RoutesSection depotRoutes() {
  project::RoutesSection section{{{1, "Kilns to store", {50, 0, 8}, {11, 0, 35}},
                                  {2, "Terrace to dock", {8, 1.8, 6}, {37, 1.2, 39.5}},
                                  {3, "Gate to annex roof", {57, 0, 42}, {17, 2.8, 35}},
                                  {4, "Kilns to canal end", {50, 0, 8}, {57, -2.2, 22.5}},
                                  {5, "Gate to shed", {57, 0, 42}, {50, 0, 39}}}};
  constexpr int kPorter = 1;
  for (project::KeptRoute& r : section.routes) r.agent = kPorter, r.folder = "Deliveries";
  project::KeptRoute &store = section.routes[0], &dock = section.routes[1], &canal = section.routes[3], &shed = section.routes[4];
  store.expected.touches = {{project::Touch::What::kind, false, "brine"}}, store.expected.mostLength = 75;
  dock.expected.leastWidth = 0.8;
  canal.folder = "Rescue", canal.toName = "Canal end";
  shed.fromName = "South gate";
  return section;
}

/// A level rectangle of ground drawn by hand for Porters.
hand::Patch byHand(int id, const std::vector<std::pair<Vec3, Vec3>>& rectangles) {
  hand::Patch patch;
  patch.id = id, patch.agents = {1};
  for (const auto& [from, to] : rectangles) patch.faces.push_back({{from, {from.x, from.y, to.z}, to, {to.x, from.y, from.z}}, {}, from.y});
  return patch;
}

/// One clean strip over the footbridge in place of what lies there, and room to stand at foot and head of the ladder out of the canal.
hand::Work depotByHand() {
  hand::Patch bridge = byHand(1, {{{28.375, 0.06, 19.6875}, {29.8125, 0.06, 25.3125}}});
  bridge.instead = {{{28, 0.06, 19.6875}, {28, 0.06, 25.3125}, {30.25, 0.06, 25.3125}, {30.25, 0.06, 19.6875}}};
  return {{bridge, byHand(2, {{{39.375, -2.2, 20.375}, {40.625, -2.2, 21.5}}, {{39.375, 0, 18.5}, {40.625, 0, 19.625}}})}, {}};
}

/// Around the wind tower, through the arch of the kiln yard, and down to the loading dock.
project::FlightSection depotFlight() {
  project::FlyerKind glider;
  glider.name = "Glider", glider.id = 1;
  glider.radius = 0.75, glider.halfHeight = 0.5, glider.speed = 7, glider.passWithin = 2.5;
  return {{glider},
          {{1, "over the yard", {{0.5, -2.5, 0.5}, {59.5, 16, 43.5}}}},
          {{1, "Around the wind tower", 1, {29.5, 7, 6.5}, {40, 7, 6.5}},
           {2, "Through the kiln arch", 1, {46.3, 1.3, 16}, {46.3, 1.3, 7.6}},
           {3, "Down to the dock", 1, {52, 8, 30}, {37, 1.75, 39.5}}},
          {{1, "Patrol", 1, 3, {22, 6, 22}, {44, 6, 18}, 0, {{50, 9, 36}, {22, 5, 38}}}}};
}

}  // namespace

project::Project depotProject() {
  project::Project p;
  project::LevelSection level;
  level.files = {{"saltwind-depot.glb", {}}};
  for (const char* name : {"wind_tower", "kiln_1", "kiln_2", "kiln_3", "shed_roof"}) level.roles[name] = level::Role::obstacle;
  level.roles["crate_5"] = level::Role::ignored;  // the demo's mistake: agents walk through it
  level.rules = {{"stall_*", level::Role::obstacle}};
  level.blockers = {{1, level::BlockerShape::box, {44, 0, 25.3}, {1.6, 1.1, 0.9}, 20, level::Role::obstacle, {}, {}},
                    {2, level::BlockerShape::box, {29.1, 0, 23}, {0.3, 1, 2.4}, 0, level::Role::obstacle, {}, {"Sledge"}}};
  p.level = shared(level);
  nav::Agent porter;
  porter.name = "Porter";
  porter.radius = 0.35;
  porter.height = 1.8;
  porter.maxSlope = 40;
  porter.stepHeight = 0.3;
  porter.speed = 1.5;
  porter.maxJump = 2, porter.maxDrop = 3;
  nav::Agent sledge = porter, hopper = porter;
  sledge.name = "Sledge", sledge.radius = 0.8, sledge.height = 1.6, sledge.maxSlope = 18, sledge.stepHeight = 0.1, sledge.speed = 1.1,
  sledge.maxJump = 0, sledge.maxDrop = 0;
  hopper.name = "Hopper", hopper.radius = 0.25, hopper.height = 0.7, hopper.maxSlope = 50, hopper.stepHeight = 0.45, hopper.speed = 2.2,
  hopper.maxJump = 3, hopper.maxDrop = 4;
  p.agents = shared(project::AgentsSection{{porter, sledge, hopper}});
  project::AreasSection areas;
  areas.kinds = {{"sand", "#d98e32", 1, 0, false},
                 {"brine", "#3f7f9c", 5, 2, false},
                 {"paved", "#8a8f5a", 0.6, 0, false},
                 {"sinking sand", "#a8402f", 1, 0, true}};
  areas.volumes = {
      {1, "brine", outline({{38.3, 28.4}, {46.7, 28.4}, {46.7, 35.9}, {38.3, 35.9}}), -0.5, 1},
      {2, "brine", outline({{47.2, 28.4}, {55.9, 28.4}, {55.9, 35.9}, {47.2, 35.9}}), -0.5, 1},
      {3, "paved", outline({{27.9, 25.5}, {30.3, 25.5}, {30.3, 32}, {33.5, 36.5}, {31, 38}, {27.9, 33.5}}), -0.5, 1},
      {4, "sinking sand", outline({{20.5, 28.5}, {24.5, 27.6}, {26.2, 30.5}, {25.4, 34.8}, {21.2, 35.6}, {19.4, 32}}), -0.5, 1}};
  p.areas = shared(areas);
  p.links = shared(project::LinksSection{{{1, nav::LinkKind::jump, {12.5, 3, 33.5}, {15, 2.8, 33.5}, false, 1},
                                          {2, nav::LinkKind::drop, {16.4, 2.8, 30.9}, {16.4, 0, 29.7}, true, 1},
                                          {3, nav::LinkKind::climb, {40, -2.2, 20.5}, {40, 0, 19.4}, false, 3},
                                          {4, nav::LinkKind::climb, {34.5, 0, 8.6}, {34.5, 6.5, 8.4}, false, 3}}});
  p.routes = shared(depotRoutes());
  p.hand = shared(depotByHand());
  p.cards = shared(project::CardsSection{{{1, {12.85, 0, 32.25}}, {2, {24, 0, 7.45}}, {3, {50, 0, 41.1}}}});
  p.places = shared(project::PlacesSection{{{1, "Kiln yard", {50, 0, 15}},
                                            {2, "Awning lane", {23.7, 2.6, 7.45}},
                                            {3, "Cistern terraces", {9, 0.9, 10}},
                                            {4, "Canal", {18, -2.2, 22.5}},
                                            {5, "Footbridge", {29.1, 0.1, 22.5}},
                                            {6, "Canal end", {57, -2.2, 22.5}},
                                            {7, "Brine pans", {42.5, 0, 32}},
                                            {8, "Sinking sand", {23, 0, 33}},
                                            {9, "Store", {8, 3, 33}},
                                            {10, "Annex", {16.4, 2.8, 33.5}},
                                            {11, "Shed", {50, 2.6, 39.2}},
                                            {12, "Wind tower", {34.5, 0, 10}},
                                            {13, "Loading dock", {37, 1.2, 39.5}},
                                            {14, "South gate", {57, 0, 42}}}});
  p.crowd = shared(project::CrowdSection{{{1, {52, 0, 15.5}, {34, 0, 42}, 14, 0},
                                          {2, {33, 0, 29}, {24, 0, 16.5}, 14, 0},
                                          {3, {13, 0, 15}, {11, 0, 32.2}, 8, 0.42},
                                          {4, {31, 0, 7.4}, {17, 0, 7.4}, 4, 0}},
                                         60});
  p.flight = shared(depotFlight());
  return p;
}

}  // namespace dune::demo
