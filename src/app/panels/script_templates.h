#pragma once
// What a new script begins with.
#include <QString>
#include <vector>

namespace app {

struct ScriptTemplate {
    QString key, label, help, stem, text;
};
/// KIND in a text stands for a kind's name.
const std::vector<ScriptTemplate>& scriptTemplates();

}  // namespace app
