#pragma once
// Small parts that every panel is made of.
#include <QLabel>
#include <QMenu>
#include <QString>
#include <algorithm>
#include <string_view>

#include "base/text.h"
#include "base/units.h"

namespace app {

/// From UTF-8.
inline QString toQt(std::string_view text) {
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

/// A button by its object name, with its words and what it is for.
template <class Button>
Button* button(const char* name, const QString& text, const QString& tip) {
    auto* made = new Button;
    made->setObjectName(QLatin1String(name));
    made->setText(text);
    made->setToolTip(tip);
    made->setAccessibleName(text.size() > 1 ? text : tip);  // an arrow has no words
    return made;
}

/// A label that the style sheet knows by `name`.
inline QLabel* label(const QString& text, const char* name = "quiet") {
    auto* l = new QLabel(text);
    l->setObjectName(QLatin1String(name));
    return l;
}

/// One whose words wrap, and can be copied.
inline QLabel* wrapped(const QString& text, const char* name = "quiet") {
    QLabel* l = label(text, name);
    l->setWordWrap(true);
    l->setTextInteractionFlags(Qt::TextSelectableByMouse);
    return l;
}

/// As numbers are written here: with so many decimals, and a point.
inline QString fixed(double number, int decimals = 2) {
    return toQt(base::fixed(number, decimals));
}

/// A length without its sign, as exact as `decimals` of a metre.
inline QString lengthNumber(double metres, base::LengthUnit unit, int decimals) {
    const base::LengthUnitTraits& in = base::traits(unit);
    return fixed(metres * in.perMetre, std::max(0, decimals - in.digits));
}

/// A menu that is opened by popup() and goes when it closes. No loop of its own runs meanwhile: what it was opened on
/// may change or go.
inline QMenu* openMenu(QWidget* over) {
    auto* menu = new QMenu(over);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    return menu;
}

}  // namespace app
