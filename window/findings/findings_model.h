#pragma once
// The findings as a list model.

#include <QAbstractListModel>

#include "core/review/findings.h"

namespace dune::window {

class FindingsModel : public QAbstractListModel {
  Q_OBJECT

 public:
  int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : static_cast<int>(findings_.size()); }
  QVariant data(const QModelIndex& index, int role) const override;
  void set(std::vector<review::Finding> findings);
  const review::Finding& at(int row) const { return findings_[static_cast<std::size_t>(row)]; }
  int count(review::Severity severity) const;

 private:
  std::vector<review::Finding> findings_;
};

}  // namespace dune::window
