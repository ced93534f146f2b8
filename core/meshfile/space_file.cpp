#include "core/meshfile/space_file.h"

#include <fstream>

#include "core/base/file.h"
#include "core/flight/space_parts.h"
#include "core/meshfile/header.h"
#include "space_generated.h"

namespace dune::meshfile {

namespace {

constexpr FileKind kSpace{"DUNEFLY1", 1, ".dsfly", "free space"};

fb::Place place(const Vec3& p) { return {p.x, p.y, p.z}; }
Vec3 placeFrom(const fb::Place& p) { return {p.x(), p.y(), p.z()}; }

flatbuffers::Offset<fb::Flyer> flyerTo(flatbuffers::FlatBufferBuilder& builder, const flight::Flyer& f) {
  const auto name = builder.CreateString(f.name);
  return fb::CreateFlyer(builder, name, f.radius, f.halfHeight, f.speed, f.leastSpeed, f.acceleration, f.turnRate, f.climbRate, f.mostBank,
                         f.mostPitch, f.passWithin, f.arriveWithin, f.turnsFirst, f.leastHeight, f.mostHeight);
}

flight::Flyer flyerFrom(const fb::Flyer& f) {
  flight::Flyer flyer;
  flyer.name = f.name()->str();
  flyer.radius = f.radius(), flyer.halfHeight = f.half_height();
  flyer.speed = f.speed(), flyer.leastSpeed = f.least_speed(), flyer.acceleration = f.acceleration(), flyer.turnRate = f.turn_rate();
  flyer.climbRate = f.climb_rate(), flyer.mostBank = f.most_bank(), flyer.mostPitch = f.most_pitch();
  flyer.passWithin = f.pass_within(), flyer.arriveWithin = f.arrive_within(), flyer.turnsFirst = f.turns_first();
  flyer.leastHeight = f.least_height(), flyer.mostHeight = f.greatest_height();
  return flyer;
}

}  // namespace

std::string spaceToBytes(const flight::Space& space) {
  const flight::SpaceParts p = flight::takeApart(space);
  flatbuffers::FlatBufferBuilder builder(1 << 16);
  const auto flyer = flyerTo(builder, p.flyer);
  std::vector<fb::Box> boxes;
  for (const Box3& b : p.boxes) boxes.emplace_back(place(b.min), place(b.max));
  std::vector<fb::Barrier> barriers;
  for (const flight::Barrier& b : p.barriers)
    barriers.emplace_back(place(b.corner[0]), place(b.corner[1]), place(b.corner[2]), b.object, b.solid);
  std::vector<fb::Chunk> chunks;
  for (std::size_t i = 0; i < p.chunks.size(); ++i) chunks.emplace_back(p.chunks[i].x, p.chunks[i].y, p.chunks[i].z, p.cellsOf[i]);
  std::vector<fb::Cell> cells;
  for (const flight::Cell& c : p.cells)
    cells.emplace_back(c.at[0], c.at[1], c.at[2], c.clearance, c.x, c.y, c.z, c.level, static_cast<fb::CellKind>(c.kind));
  const auto boxList = builder.CreateVectorOfStructs(boxes);
  const auto names = builder.CreateVectorOfStrings(p.names);
  const auto barrierList = builder.CreateVectorOfStructs(barriers);
  const auto chunkList = builder.CreateVectorOfStructs(chunks);
  const auto cellList = builder.CreateVectorOfStructs(cells);
  const auto joints = builder.CreateVector(p.jointChunk), start = builder.CreateVector(p.start), next = builder.CreateVector(p.next);
  const auto part = builder.CreateVector(p.part);
  const auto sizes = builder.CreateVector(p.partSize);
  std::vector<fb::Zone> zones;
  for (const flight::AirZone& z : p.zones) zones.emplace_back(place(z.box.min), place(z.box.max), z.cost, z.entry, z.kind);
  const auto zoneList = builder.CreateVectorOfStructs(zones);
  std::vector<std::uint8_t> of;
  for (const flight::Barrier& b : p.barriers) of.push_back(static_cast<std::uint8_t>(b.of));
  const auto ofList = builder.CreateVector(of);
  builder.Finish(fb::CreateSpace(builder, flyer, boxList, names, barrierList, chunkList, cellList, joints, start, next, part, sizes, ofList,
                                 zoneList));
  return withHeader(kSpace, builder.GetBufferPointer(), builder.GetSize());
}

Result<std::shared_ptr<const flight::Space>> spaceFromBytes(std::string_view bytes) {
  const auto body = bodyOf(kSpace, bytes);
  if (!body) return body.problem();
  flatbuffers::Verifier verifier(reinterpret_cast<const std::uint8_t*>(body->data()), body->size());
  if (!fb::VerifySpaceBuffer(verifier)) return damagedFile(kSpace, "The content does not follow the schema.", "byte 24");
  const fb::Space& file = *fb::GetSpace(body->data());
  flight::SpaceParts p;
  p.flyer = flyerFrom(*file.flyer());
  for (const fb::Box* b : *file.boxes()) p.boxes.push_back({placeFrom(b->min()), placeFrom(b->max())});
  for (const auto* name : *file.names()) p.names.push_back(name->str());
  for (const fb::Barrier* b : *file.barriers())
    p.barriers.push_back({{placeFrom(b->a()), placeFrom(b->b()), placeFrom(b->c())}, b->object(), b->solid()});
  if (const auto* of = file.barrier_of())
    for (std::size_t i = 0; i < std::min<std::size_t>(of->size(), p.barriers.size()); ++i)
      p.barriers[i].of = static_cast<flight::Barrier::Of>(std::min<std::uint8_t>((*of)[static_cast<flatbuffers::uoffset_t>(i)], 3));
  if (const auto* list = file.zones())
    for (const fb::Zone* z : *list) p.zones.push_back({{placeFrom(z->min()), placeFrom(z->max())}, z->cost(), z->entry(), z->kind()});
  for (const fb::Chunk* c : *file.chunks()) p.chunks.push_back({c->x(), c->y(), c->z()}), p.cellsOf.push_back(c->cells());
  for (const fb::Cell* c : *file.cells()) {
    flight::Cell cell;
    cell.x = c->x(), cell.y = c->y(), cell.z = c->z(), cell.level = c->level(), cell.kind = static_cast<flight::Cell::Kind>(c->kind());
    cell.clearance = c->clearance(), cell.at = {c->at_x(), c->at_y(), c->at_z()};
    p.cells.push_back(cell);
  }
  p.jointChunk.assign(file.joint_chunk()->begin(), file.joint_chunk()->end());
  p.start.assign(file.start()->begin(), file.start()->end()), p.next.assign(file.next()->begin(), file.next()->end());
  p.part.assign(file.part()->begin(), file.part()->end()), p.partSize.assign(file.part_size()->begin(), file.part_size()->end());
  return flight::putTogether(std::move(p));
}

Result<std::shared_ptr<const flight::Space>> readSpace(const std::string& path) {
  const auto bytes = readFile(path);
  if (!bytes) return bytes.problem();
  auto space = spaceFromBytes(*bytes);
  return space ? std::move(space) : space.problem().within(path);
}

bool isSpaceFile(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  char magic[8] = {};
  return file.read(magic, 8) && std::string_view(magic, 8) == std::string_view(kSpace.magic, 8);
}

}  // namespace dune::meshfile
