#include "demo/glb_writer.h"

#include <nlohmann/json.hpp>

#include "core/base/bounds.h"

namespace dune::demo {

void GlbWriter::quad(Object& object, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
  for (const Vec3& p : {a, b, c, a, c, d}) object.vertices.push_back(p);
}

void GlbWriter::prism(const std::string& name, const std::vector<Vec3>& foot, const std::vector<Vec3>& top) {
  Object object{name, {}};
  const std::size_t n = foot.size();
  for (std::size_t i = 1; i + 1 < n; ++i) {
    for (const Vec3& p : {top[0], top[i + 1], top[i]}) object.vertices.push_back(p);
    for (const Vec3& p : {foot[0], foot[i], foot[i + 1]}) object.vertices.push_back(p);
  }
  for (std::size_t i = 0; i < n; ++i) quad(object, foot[i], top[i], top[(i + 1) % n], foot[(i + 1) % n]);
  objects_.push_back(std::move(object));
}

void GlbWriter::box(const std::string& name, const Vec3& a, const Vec3& b) {
  prism(name, {{a.x, a.y, a.z}, {b.x, a.y, a.z}, {b.x, a.y, b.z}, {a.x, a.y, b.z}},
        {{a.x, b.y, a.z}, {b.x, b.y, a.z}, {b.x, b.y, b.z}, {a.x, b.y, b.z}});
}

void GlbWriter::cylinder(const std::string& name, const Vec3& foot, double radius, double height, int sides) {
  std::vector<Vec3> low, high;
  for (int i = 0; i < sides; ++i) {
    const double angle = 2 * kPi * i / sides;
    low.push_back(foot + Vec3{radius * std::cos(angle), 0, radius * std::sin(angle)});
    high.push_back(low.back() + Vec3{0, height, 0});
  }
  prism(name, low, high);
}

void GlbWriter::wedgeX(const std::string& name, const Vec3& a, const Vec3& b, double low, int upTo) {
  const double atA = upTo > 0 ? low : b.y, atB = upTo > 0 ? b.y : low;
  prism(name, {{a.x, a.y, a.z}, {b.x, a.y, a.z}, {b.x, a.y, b.z}, {a.x, a.y, b.z}},
        {{a.x, atA, a.z}, {b.x, atB, a.z}, {b.x, atB, b.z}, {a.x, atA, b.z}});
}

void GlbWriter::stairsX(const std::string& name, const Vec3& from, int direction, int steps, double rise, double run, double width) {
  for (int i = 0; i < steps; ++i) {
    const double near = from.x + direction * run * i, far = from.x + direction * run * (i + 1);
    box(name + "_" + std::to_string(i + 1), {std::min(near, far), from.y, from.z},
        {std::max(near, far), from.y + rise * (i + 1), from.z + width});
  }
}

void GlbWriter::stairsZ(const std::string& name, const Vec3& from, int direction, int steps, double rise, double run, double width) {
  for (int i = 0; i < steps; ++i) {
    const double near = from.z + direction * run * i, far = from.z + direction * run * (i + 1);
    box(name + "_" + std::to_string(i + 1), {from.x, from.y, std::min(near, far)},
        {from.x + width, from.y + rise * (i + 1), std::max(near, far)});
  }
}

std::string GlbWriter::bytes() const {
  std::string binary;
  nlohmann::ordered_json nodes = nlohmann::json::array(), meshes = nlohmann::json::array(), views = nlohmann::json::array(),
                         accessors = nlohmann::json::array(), roots = nlohmann::json::array();
  for (const Object& object : objects_) {
    Box3 box, local;
    for (const Vec3& v : object.vertices) box.add(v);
    const Vec3 origin{box.centre().x, box.min.y, box.centre().z};
    const std::size_t offset = binary.size();
    for (const Vec3& v : object.vertices) {
      const float p[3] = {static_cast<float>(v.x - origin.x), static_cast<float>(v.y - origin.y), static_cast<float>(v.z - origin.z)};
      binary.append(reinterpret_cast<const char*>(p), sizeof p);
      local.add({p[0], p[1], p[2]});
    }
    const std::size_t n = nodes.size();
    roots.push_back(n);
    nodes.push_back({{"name", object.name}, {"mesh", n}, {"translation", {origin.x, origin.y, origin.z}}});
    meshes.push_back({{"name", object.name}, {"primitives", {{{"attributes", {{"POSITION", n}}}, {"mode", 4}}}}});
    views.push_back({{"buffer", 0}, {"byteOffset", offset}, {"byteLength", binary.size() - offset}});
    accessors.push_back({{"bufferView", n},
                         {"componentType", 5126},
                         {"count", object.vertices.size()},
                         {"type", "VEC3"},
                         {"min", {local.min.x, local.min.y, local.min.z}},
                         {"max", {local.max.x, local.max.y, local.max.z}}});
  }
  const nlohmann::ordered_json j{{"asset", {{"version", "2.0"}, {"generator", "Dune Step demo"}}},
                                 {"scene", 0},
                                 {"scenes", {{{"nodes", roots}}}},
                                 {"nodes", nodes},
                                 {"meshes", meshes},
                                 {"buffers", {{{"byteLength", binary.size()}}}},
                                 {"bufferViews", views},
                                 {"accessors", accessors}};
  std::string text = j.dump();
  text.resize((text.size() + 3) / 4 * 4, ' ');
  std::string glb = "glTF";
  auto append32 = [&](std::size_t x) {
    const auto value = static_cast<std::uint32_t>(x);
    glb.append(reinterpret_cast<const char*>(&value), 4);
  };
  append32(2), append32(12 + 8 + text.size() + 8 + binary.size());
  append32(text.size());
  glb += "JSON" + text;
  append32(binary.size());
  glb += std::string("BIN\0", 4) + binary;
  return glb;
}

}  // namespace dune::demo
