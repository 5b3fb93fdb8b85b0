#pragma once
// Questions in our own look.
#include <QAbstractButton>
#include <QMessageBox>

#include "app/look/theme.h"

namespace app {

/// Our mark instead of the toolkit's, and buttons of words alone. Once its buttons are there.
inline void dressQuestion(QMessageBox& question, const Theme& theme) {
    constexpr int kMark = 36;
    question.setIconPixmap(icon("question", theme.honey).pixmap(kMark, kMark));
    for (QAbstractButton* button : question.buttons()) button->setIcon({});
}

}  // namespace app
