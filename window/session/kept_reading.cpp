#include "window/session/kept_reading.h"

#include <QCryptographicHash>
#include <QSettings>

namespace dune::window {

namespace {

QString keyOf(const trace::TableHead& head) {
  const QByteArray make = QByteArray::fromStdString(head.make());
  return QStringLiteral("recordings/") + QString::fromLatin1(QCryptographicHash::hash(make, QCryptographicHash::Md5).toHex());
}

}  // namespace

trace::Reading keptReading(const trace::TableHead& head) {
  trace::Reading reading;
  const QVariantMap kept = QSettings().value(keyOf(head)).toMap();
  for (std::size_t c = 0; c < trace::kCount; ++c)
    if (const QString name = kept.value(QString::fromLatin1(trace::columnName(c))).toString(); !name.isEmpty())
      reading.columns[c] = name.toStdString();
  reading.scale = kept.value(QStringLiteral("scale"), 1.0).toDouble();
  reading.seconds = kept.value(QStringLiteral("seconds"), 1.0).toDouble();
  reading.zUp = kept.value(QStringLiteral("zUp"), false).toBool();
  if (!(reading.scale > 0) || !(reading.seconds > 0)) return {};
  return reading;
}

void keepReading(const trace::TableHead& head, const trace::Reading& reading) {
  QVariantMap kept{
      {QStringLiteral("scale"), reading.scale}, {QStringLiteral("seconds"), reading.seconds}, {QStringLiteral("zUp"), reading.zUp}};
  for (const auto& [column, name] : reading.columns) kept[QString::fromLatin1(trace::columnName(column))] = QString::fromStdString(name);
  QSettings().setValue(keyOf(head), kept);
}

}  // namespace dune::window
