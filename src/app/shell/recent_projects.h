#pragma once
// The projects that were open lately, the last one first: where they lie, what was shown of them, and a picture.
#include <QDateTime>
#include <QPixmap>
#include <QStringList>
#include <QVector>

namespace app {

struct RecentProject {
    QString folder, name, scene;
    QDateTime last;
    bool isThere = false;  ///< at its place
    QPixmap picture;
};

QVector<RecentProject> recentProjects();
/// Their folders alone.
QStringList recentFolders();
/// It is open now, and shows this scene.
void rememberProject(const QString& folder, const QString& name, const QString& scene);
/// How it looked when it was left.
void keepPicture(const QString& folder, const QPixmap& picture);
void forgetProject(const QString& folder);

}  // namespace app
