#include "app/panels/vary_card.h"

#include <QComboBox>
#include <QGridLayout>
#include <QToolButton>
#include <algorithm>
#include <functional>

#include "app/kit/number_field.h"
#include "app/kit/parts.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "model/library.h"

namespace app {

VaryCard::VaryCard(Editor& editor) : editor_(editor) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 2, 0, 0);
    grid->setVerticalSpacing(3);
    grid->addWidget(label(tr("Placed at random"), "cardTitle"), 0, 0, 1, 3);
    auto field = [&](int row, int column, const char* name, const QString& what, base::Quantity quantity, double value,
                     double low, double high, const std::function<void(Varying&, double)>& set) {
        auto* f = new NumberField(quantity, 2);
        f->setObjectName(QLatin1String(name));
        f->setAccessibleName(what);
        f->setToolTip(what);
        f->setValue(value);
        auto change = [this, f, set, low, high](double v) {
            Varying varying = editor_.tools().varying;
            set(varying, std::clamp(v, low, high));
            if (varying.smallest > varying.largest) varying.largest = varying.smallest;
            editor_.change(&Tools::varying, varying);
            f->setValue(std::clamp(v, low, high));
        };
        QObject::connect(f, &NumberField::typed, f, [this, quantity, change](const QString& text) {
            auto v = base::evaluateQuantity(text.toStdString(), quantity, 0.0);
            if (v)
                change(*v);
            else
                editor_.report(tl::unexpected(v.error()));
        });
        grid->addWidget(f, row, column);
    };
    grid->addWidget(label(tr("Turn ±"), "quiet"), 1, 0);
    field(1, 1, "varyTurn", tr("Turned by chance, up to so many degrees either way"), base::Quantity::Angle,
          editor.tools().varying.turnDegrees, 0, 180, [](Varying& v, double x) { v.turnDegrees = x; });
    grid->addWidget(label(tr("Size"), "quiet"), 2, 0);
    field(2, 1, "varySmallest", tr("Smallest size by chance, times its own"), base::Quantity::Factor,
          editor.tools().varying.smallest, 0.01, 100, [](Varying& v, double x) { v.smallest = x; });
    field(2, 2, "varyLargest", tr("Largest size by chance, times its own"), base::Quantity::Factor,
          editor.tools().varying.largest, 0.01, 100, [](Varying& v, double x) { v.largest = x; });
    grid->addWidget(label(tr("Tint"), "quiet"), 3, 0);
    field(3, 1, "varyTint", tr("Tinted by chance: 0 not at all, 1 down to black"), base::Quantity::Factor,
          editor.tools().varying.tint, 0, 1, [](Varying& v, double x) { v.tint = x; });
    auto* others = new QToolButton;
    others->setObjectName("varyOthers");
    others->setCheckable(true);
    others->setText(tr("Variations too"));
    others->setToolTip(tr("Also places the items of the same name with another number"));
    QObject::connect(others, &QToolButton::toggled, others, [this, others](bool on) {
        Varying varying = editor_.tools().varying;
        varying.variations = on;
        editor_.change(&Tools::varying, varying);
        others->setText((on ? QStringLiteral("✓ ") : QString()) + tr("Variations too"));
    });
    grid->addWidget(others, 4, 0, 1, 3);
    auto* mix = new QComboBox;
    mix->setObjectName("varyMix");
    mix->setAccessibleName(tr("Out of a mix"));
    mix->setToolTip(tr("An item of this mix of the project, by its shares, in place of the one that is chosen"));
    grid->addWidget(label(tr("Mix"), "quiet"), 5, 0);
    grid->addWidget(mix, 5, 1, 1, 2);
    const auto refresh = [this, mix] {
        const QSignalBlocker quiet(mix);
        mix->clear();
        mix->addItem(tr("none"), QString());
        if (!editor_.hasProject()) return;
        for (const auto& [name, one] : editor_.session().library().mixes())
            mix->addItem(QString::fromStdString(name), QString::fromStdString(name));
        mix->setCurrentIndex(std::max(0, mix->findData(QString::fromStdString(editor_.tools().varying.mix))));
    };
    QObject::connect(mix, QOverload<int>::of(&QComboBox::activated), mix, [this, mix](int row) {
        Varying varying = editor_.tools().varying;
        varying.mix = mix->itemData(row).toString().toStdString();
        editor_.change(&Tools::varying, varying);
    });
    QObject::connect(&editor_, &Editor::libraryChanged, mix, refresh);
    QObject::connect(&editor_, &Editor::projectChanged, mix, refresh);
    refresh();
}

}  // namespace app
