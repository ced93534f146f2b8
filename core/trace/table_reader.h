#pragma once
// Reads tables of recorded movement a line at a time: cells are read in place. JSON lines are tables too, whose lines name their cells.

#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/trace/column_names.h"
#include "core/trace/reading.h"
#include "core/trace/table_rows.h"

namespace dune::trace {

class TableReader {
 public:
  TableReader(double originHeight, const Reading& reading) : originHeight_(originHeight), reading_(reading) {}
  /// Whole lines, or the rest of a text; what is left of a last line without an end waits for more.
  std::optional<Problem> feed(std::string_view text);
  /// Room for rows, told from how long those so far are.
  void expectBytes(std::size_t all);
  /// What was read; fails where there was no header.
  Result<TableRows> finish();

 private:
  std::optional<Problem> line(std::string_view content);
  /// What one line says.
  struct Cells {
    std::array<double, kCount> values{};
    std::array<bool, kCount> given{};
    State state = State::moving;
  };
  std::optional<Problem> header(std::string_view line, std::size_t number);
  std::optional<Problem> row(std::string_view line, std::size_t number);
  std::optional<Problem> object(std::string_view line, std::size_t number);
  std::optional<Problem> takeCell(Cells& cells, std::size_t column, std::string_view cell, std::size_t number);
  std::optional<Problem> takeRow(const Cells& cells, std::size_t number);
  std::string_view withPoint(std::string_view cell);
  bool has(std::size_t column) const { return where_[column] != kNone; }

  static constexpr std::size_t kNone = ~std::size_t{0};
  double originHeight_;
  Reading reading_;
  std::size_t cells_ = 0, lines_ = 0, bytes_ = 0, expected_ = 0;
  char separator_ = ',';
  bool json_ = false;           // lines are objects
  bool lacksVelocity_ = false;  // in some row
  std::string number_, rest_;
  std::array<std::size_t, kCount> where_{};
  std::vector<std::size_t> columnAt_;  // one a cell of a line
  TableRows table_;
};

}  // namespace dune::trace
