#include "app/dialogs/theirs_bar.h"

#include <QHBoxLayout>
#include <QToolButton>
#include <vector>

#include "app/kit/parts.h"

namespace app {

TheirsBar::TheirsBar(QWidget* parent) : QFrame(parent) {
    setObjectName("banner");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 8, 6);
    text_ = new QLabel;
    text_->setObjectName("theirsText");
    text_->setWordWrap(true);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    row->addWidget(text_, 1);
    auto add = [&](const char* name, const QString& text, const QString& tip, void (TheirsBar::*told)()) {
        auto* button = app::button<QToolButton>(name, text, tip);
        row->addWidget(button);
        connect(button, &QToolButton::clicked, this, told);
    };
    add("compareTheirs", tr("Compare"), tr("Shows what differs, without changing anything"), &TheirsBar::compare);
    add("readTheirs", tr("Read theirs"), tr("Takes what the files hold now; Undo brings back what you have"),
        &TheirsBar::readTheirs);
    add("keepMine", tr("Keep mine"),
        tr("The next Save writes yours; theirs is kept beside it under a name ending in .theirs"),
        &TheirsBar::keepMine);
}

QStringList lineDifferences(const QString& mine, const QString& theirs) {
    const QStringList a = mine.split('\n'), b = theirs.split('\n');
    const auto n = static_cast<std::size_t>(a.size()), m = static_cast<std::size_t>(b.size());
    constexpr std::size_t kMostCells = 16'000'000;
    if (n * m > kMostCells) return {QObject::tr("The texts are too long to be compared line by line.")};
    // The longest common run of lines, from the end.
    std::vector<std::uint32_t> common((n + 1) * (m + 1), 0);
    auto at = [&](std::size_t i, std::size_t k) -> std::uint32_t& { return common[i * (m + 1) + k]; };
    for (std::size_t i = n; i-- > 0;)
        for (std::size_t k = m; k-- > 0;)
            at(i, k) = a[qsizetype(i)] == b[qsizetype(k)] ? at(i + 1, k + 1) + 1 : std::max(at(i + 1, k), at(i, k + 1));
    QStringList lines;
    for (std::size_t i = 0, k = 0; i < n || k < m;) {
        if (i < n && k < m && a[qsizetype(i)] == b[qsizetype(k)]) {
            ++i;
            ++k;
        } else if (k < m && (i == n || at(i, k + 1) >= at(i + 1, k))) {
            lines << QString("+ %1: %2").arg(k + 1).arg(b[qsizetype(k)]);
            ++k;
        } else {
            lines << QString("− %1: %2").arg(i + 1).arg(a[qsizetype(i)]);
            ++i;
        }
    }
    return lines;
}

}  // namespace app
