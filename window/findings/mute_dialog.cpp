#include "window/findings/mute_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "core/review/kinds.h"

namespace dune::window {

MuteDialog::MuteDialog(const review::Finding& finding, QWidget* parent) : QDialog(parent), finding_(finding) {
  setWindowTitle(tr("Mute a finding"));
  auto* form = new QFormLayout(this);
  auto* what = new QLabel(QString::fromStdString(finding.sentence));
  what->setWordWrap(true);
  what->setMinimumWidth(360);
  form->addRow(what);
  const review::FindingKind* kind = review::kindOf(finding.code);
  const QString title = kind ? tr(kind->title) : QString::fromStdString(finding.code);
  scope_ = new QComboBox;
  scope_->setAccessibleName(tr("What is muted"));
  scope_->addItem(tr("\"%1\" within %2 m of here").arg(title).arg(pipeline::kMutedWithin), static_cast<int>(pipeline::MuteScope::here));
  if (finding.agent >= 0)
    scope_->addItem(tr("\"%1\" of agent %2, anywhere").arg(title).arg(finding.agent), static_cast<int>(pipeline::MuteScope::agent));
  scope_->addItem(tr("\"%1\", all of them").arg(title), static_cast<int>(pipeline::MuteScope::everything));
  form->addRow(tr("Mute"), scope_);
  reason_ = new QLineEdit;
  reason_->setAccessibleName(tr("Reason"));
  reason_->setPlaceholderText(tr("why this is known and fine"));
  form->addRow(tr("Reason"), reason_);
  auto* note = new QLabel(tr("Kept in the project; undo brings it back, and so does \"Tell again\" in the list."));
  note->setObjectName(QStringLiteral("quiet"));
  note->setWordWrap(true);
  form->addRow(note);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  mute_ = buttons->addButton(tr("Mute"), QDialogButtonBox::AcceptRole);
  mute_->setEnabled(false);
  connect(reason_, &QLineEdit::textChanged, this, [this](const QString& t) { mute_->setEnabled(!t.trimmed().isEmpty()); });
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  reason_->setFocus();
}

project::MutedFindings MuteDialog::answer() const {
  return pipeline::muteOf(finding_, static_cast<pipeline::MuteScope>(scope_->currentData().toInt()),
                          reason_->text().trimmed().toStdString());
}

}  // namespace dune::window
