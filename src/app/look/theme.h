#pragma once
// The two themes as tokens, and the application's style made from them. Every colour on screen comes from here.
#include <QColor>
#include <QIcon>
#include <QString>

namespace app {

struct Theme {
    QString name;  ///< "dusk" or "oat"
    QColor window, panel, raised, line, text, dim, faint;
    QColor honey, honeyInk, honeySoft;  ///< selection; what is written on it; behind a selected row
    QColor moss, lemon, rose, lilac;
    QColor axis[3];  ///< X ember, Y fern, Z tide
    QColor viewTop, viewHorizon, viewBottom;
};

const Theme& dusk();
const Theme& oat();
/// The light or the dark one; `plain`: with axes and marks that everybody can tell apart.
const Theme& themeOf(bool light, bool plain);

/// The application's style sheet in a theme.
QString styleSheet(const Theme& theme);

/// "1 object", "12 objects".
QString counted(std::size_t n, const QString& one, const QString& many);

/// A stroke icon in a colour; `size` in logical pixels.
QIcon icon(const QString& name, const QColor& colour);

}  // namespace app
