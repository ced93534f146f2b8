#include "core/exchange/report.h"

#include <algorithm>
#include <map>
#include <string_view>

#include "core/base/text.h"
#include "core/review/causes.h"
#include "core/review/kinds.h"

namespace dune::exchange {

namespace {

using review::Causes;
using review::Finding;

constexpr double kWidth = 940;  // pixels

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else
      out += c;
  }
  return out;
}

const char* colourOf(review::Severity s) {
  return s == review::Severity::error ? "#B3261E" : s == review::Severity::warning ? "#8A5A00" : "#3E5C76";
}

/// The plan: ground, how often bodies were where, and a mark a finding.
class Plan {
 public:
  explicit Plan(const ReportInput& input) : input_(input) {
    for (const Vec3& v : input.mesh.vertices) box_.add({v.x, v.z});
    for (const Finding& f : input.findings)
      if (isFinite(f.at)) box_.add({f.at.x, f.at.z});
    if (box_.empty()) box_.add({0, 0}), box_.add({1, 1});
    box_ = box_.grown(1);
    const Vec2 size = box_.max - box_.min;
    scale_ = std::min(kWidth / size.x, kWidth / size.y);
  }
  std::string svg() {
    const Vec2 size = (box_.max - box_.min) * scale_;
    out_ = text("<svg width=\"%.0f\" height=\"%.0f\" viewBox=\"0 0 %.0f %.0f\" role=\"img\" aria-label=\"Plan of the ground\">\n", size.x,
                size.y, size.x, size.y);
    ground();
    heat();
    marks();
    return out_ + "</svg>\n";
  }

 private:
  Vec2 at(const Vec3& p) const { return (Vec2{p.x, p.z} - box_.min) * scale_; }

  void ground() {
    const nav::NavMesh& mesh = input_.mesh;
    constexpr std::size_t kMostFaces = 20'000;
    std::string faces, border;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
      const std::size_t n = mesh.cornerCount(nav::FaceId{f});
      for (std::size_t i = 0; i < n; ++i) {
        const Vec2 a = at(mesh.cornerAt(nav::FaceId{f}, i)), b = at(mesh.cornerAt(nav::FaceId{f}, (i + 1) % n));
        if (mesh.faceCount() <= kMostFaces) faces += text(i == 0 ? "M%.1f %.1f" : "L%.1f %.1f", a.x, a.y);
        if (mesh.acrossOf(nav::FaceId{f})[i] == nav::kNoFace) border += text("M%.1f %.1fL%.1f %.1f", a.x, a.y, b.x, b.y);
      }
      if (mesh.faceCount() <= kMostFaces) faces += 'Z';
    }
    out_ += "<path d=\"" + faces + "\" fill=\"#EBC394\"/>\n<path d=\"" + border + "\" stroke=\"#5A2E0C\" fill=\"none\"/>\n";
  }

  void heat() {
    if (!input_.trace) return;
    constexpr double kCell = 8;               // pixels
    constexpr std::size_t kMost = 2'000'000;  // samples that are looked at
    std::map<std::pair<int, int>, std::size_t> count;
    const trace::Trace& t = *input_.trace;
    const std::size_t bodies = t.bodies().size(), every = std::max<std::size_t>(1, t.sampleCount() / kMost);
    for (std::size_t i = 0; i < t.sampleCount(); i += every) {
      const trace::Sample s = t.at(i / bodies, i % bodies);
      const Vec2 q = at(s.at) / kCell;
      if (s.state != trace::State::waiting && q.x >= 0 && q.y >= 0 && q.x * kCell < kWidth + 1 && q.y * kCell < kWidth + 1)
        ++count[{static_cast<int>(q.x), static_cast<int>(q.y)}];
    }
    std::size_t most = 1;
    for (const auto& [cell, n] : count) most = std::max(most, n);
    for (const auto& [cell, n] : count)
      out_ +=
          text("<rect x=\"%g\" y=\"%g\" width=\"%g\" height=\"%g\" fill=\"#4B2A8C\" fill-opacity=\"%.2f\"/>\n", cell.first * kCell,
               cell.second * kCell, kCell, kCell, 0.1 + 0.7 * std::log1p(static_cast<double>(n)) / std::log1p(static_cast<double>(most)));
  }

  void marks() {
    for (std::size_t i = 0; i < input_.findings.size(); ++i) {
      const Finding& f = input_.findings[i];
      if (!isFinite(f.at)) continue;
      const Vec2 q = at(f.at);
      const char* shape = f.severity == review::Severity::error     ? "M0 -7L7 0L0 7L-7 0Z"
                          : f.severity == review::Severity::warning ? "M0 -6L6 6L-6 6Z"
                                                                    : "M-5 0A5 5 0 1 0 5 0A5 5 0 1 0 -5 0Z";
      out_ += text("<a href=\"#f%zu\"><path transform=\"translate(%.1f %.1f)\" d=\"%s\" fill=\"%s\" stroke=\"#fff\"><title>", i + 1, q.x,
                   q.y, shape, colourOf(f.severity)) +
              escaped(f.sentence) + "</title></path></a>\n";
    }
  }

  const ReportInput& input_;
  Box2 box_;
  double scale_;
  std::string out_;
};

/// Mean speed of those who are there, and how many of them stand and have not arrived as far as is recorded, over time.
std::string curves(const trace::Trace& t) {
  constexpr double kHeight = 150, kLeft = 46;
  constexpr std::size_t kPoints = 300;
  const std::size_t frames = t.frameCount(), every = std::max<std::size_t>(1, frames / kPoints);
  std::vector<Vec2> speed, standing;  // at times
  for (std::size_t f = 0; f < frames; f += every) {
    double sum = 0, there = 0, still = 0;
    for (std::size_t b = 0; b < t.bodies().size(); ++b) {
      const trace::Sample s = t.at(f, b);
      if (s.state == trace::State::waiting) continue;
      const double v = glm::length(s.velocity);
      sum += v, ++there, still += v < 0.05 && s.state != trace::State::arrived;
    }
    const double at = t.timeOf(f);
    speed.push_back({at, there > 0 ? sum / there : 0}), standing.push_back({at, still});
  }
  std::string out;
  const auto curve = [&](const char* name, const char* unit, const std::vector<Vec2>& points, const char* colour) {
    double high = 0.1;
    for (const Vec2& p : points) high = std::max(high, p.y);
    const double first = points.front().x, span = std::max(1e-9, points.back().x - first);
    std::string path;
    for (std::size_t i = 0; i < points.size(); ++i)
      path += text(i == 0 ? "M%.1f %.1f" : "L%.1f %.1f", kLeft + (points[i].x - first) / span * (kWidth - kLeft),
                   kHeight * (1 - points[i].y / high) + 4);
    out += text("<h3>%s</h3><svg width=\"%.0f\" height=\"%.0f\"><text x=\"0\" y=\"14\">%.3g %s</text><text x=\"0\" y=\"%.0f\">0</text>",
                name, kWidth, kHeight + 24, high, unit, kHeight + 4) +
           text("<text x=\"%.0f\" y=\"%.0f\">%.1f s</text><text x=\"%.0f\" y=\"%.0f\" text-anchor=\"end\">%.1f s</text>", kLeft,
                kHeight + 20, first, kWidth, kHeight + 20, points.back().x) +
           "<path d=\"" + path + text("\" fill=\"none\" stroke=\"%s\" stroke-width=\"1.5\"/></svg>\n", colour);
  };
  if (speed.size() > 1) {
    curve("Mean speed", "m/s", speed, "#4B2A8C");
    curve("Standing", "agents", standing, "#B3261E");
  }
  return out;
}

std::string rowOf(const Finding& f, std::size_t number, bool usual) {
  return text("<tr id=\"f%zu\"><td style=\"color:%s\">%s</td><td>", number, colourOf(f.severity), review::severityName(f.severity)) +
         (f.timed() ? text("%.1f s", f.time) : std::string()) + "</td><td>" +
         (isFinite(f.at) ? text("%.2f, %.2f, %.2f", f.at.x, f.at.y, f.at.z) : std::string()) + "</td><td>" + escaped(f.sentence) +
         (usual ? std::string() : " <span class=\"why\">" + escaped(f.why) + "</span>") + "</td></tr>\n";
}

/// Findings of one kind, by their numbers; what all of them or most have for a cause stands over them and not in each row.
std::string group(const std::vector<Finding>& findings, const std::vector<std::size_t>& of, const review::FindingKind& kind) {
  Causes causes;
  for (const std::size_t i : of) causes.add(findings[i].why);
  std::string out = text("<h3>%s (%zu)</h3>\n<p>%s <b>Try:</b> %s</p>\n<table class=\"found\">\n", kind.title, of.size(),
                         escaped(causes.sentence()).c_str(), escaped(kind.remedy).c_str());
  const std::string usual = causes.usual();
  for (const std::size_t i : of) out += rowOf(findings[i], i + 1, findings[i].why == usual);
  return out + "</table>\n";
}

/// By kind, those with the worst first.
std::string groups(const std::vector<Finding>& findings) {
  std::map<std::string_view, std::vector<std::size_t>> of;
  for (std::size_t i = 0; i < findings.size(); ++i) of[findings[i].code].push_back(i);
  std::map<review::Severity, std::string> out;  // by the worst of a kind
  for (const review::FindingKind& kind : review::findingKinds())
    if (const auto own = of.find(kind.code); own != of.end()) {
      const auto severityOf = [&](std::size_t i) { return findings[i].severity; };
      out[severityOf(std::ranges::min(own->second, {}, severityOf))] += group(findings, own->second, kind);
    }
  std::string all;
  for (const auto& [worst, kinds] : out) all += kinds;
  return all.empty() ? "<p>Nothing was found.</p>\n" : all;
}

std::string limitsTable(const review::MovementLimits& limits) {
  std::string out = "<table>\n";
  for (const review::MovementLimit& l : review::movementLimits())
    out += text("<tr><td>%s</td><td>%g %s</td></tr>\n", l.about, limits.*l.value, l.unit);
  return out + "</table>\n";
}

}  // namespace

std::string reportHtml(const ReportInput& input) {
  std::size_t counts[3] = {};
  for (const Finding& f : input.findings) ++counts[static_cast<std::size_t>(f.severity)];
  std::string out =
      "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + escaped(input.title) +
      "</title>\n<style>body{font:15px/1.45 sans-serif;color:#2B2622;background:#FBF8F2;max-width:960px;margin:24px auto;padding:0 10px}"
      "table{border-collapse:collapse;width:100%}td{padding:3px 10px 3px 0;vertical-align:top;border-bottom:1px solid #E3DACA}"
      "td:nth-child(2),td:nth-child(3){white-space:nowrap}.why{color:#6A6058}svg{background:#F3EEE4}svg text{font-size:12px;fill:#2B2622}"
      ".found td:nth-child(1){width:64px}.found td:nth-child(2){width:56px}.found td:nth-child(3){width:150px}"
      "tr:target{background:#EFE3FA}</style></head><body>\n<h1>" +
      escaped(input.title) + "</h1>\n";
  out += text("<p><b>%zu errors, %zu warnings, %zu hints.</b> %zu faces, %.0f m² of ground for %s (radius %.2f m, height %.2f m).",
              counts[0], counts[1], counts[2], input.mesh.faceCount(), nav::totalArea(input.mesh), escaped(input.mesh.agent.name).c_str(),
              input.mesh.agent.radius, input.mesh.agent.height);
  if (input.trace)
    out += text(" %zu agents over %.1f s, %zu samples.", input.trace->bodies().size(), input.trace->duration() - input.trace->firstTime(),
                input.trace->sampleCount());
  out += "</p>\n" + Plan(input).svg();
  out += "<p>Diamonds are errors, triangles warnings, circles hints; each leads to its row.";
  if (input.trace) out += " The darker the violet, the more often bodies were there.";
  out += "</p>\n<h2>What was found</h2>\n" + groups(input.findings);
  if (input.trace && input.trace->frameCount() > 1) out += "<h2>Over time</h2>\n" + curves(*input.trace);
  out += "<h2>Limits</h2>\n<p>A finding is what goes beyond these.</p>\n" + limitsTable(input.limits);
  return out + "</body></html>\n";
}

}  // namespace dune::exchange
