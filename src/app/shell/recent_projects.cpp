#include "app/shell/recent_projects.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

namespace app {

namespace {

constexpr const char* kRecent = "projects/recent";
constexpr int kMost = 10;

QString keyOf(const QString& folder) {
    return QString::fromLatin1(QCryptographicHash::hash(folder.toUtf8(), QCryptographicHash::Sha1).toHex().left(16));
}

QString pictureFile(const QString& folder) {
    return QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation))
        .filePath("pictures/" + keyOf(folder) + ".png");
}

QString setting(const QString& folder, const char* what) {
    return QString("projects/seen/%1/%2").arg(keyOf(folder), QLatin1String(what));
}

}  // namespace

QStringList recentFolders() {
    return QSettings().value(kRecent).toStringList();
}

QVector<RecentProject> recentProjects() {
    const QSettings settings;
    QVector<RecentProject> all;
    for (const QString& folder : recentFolders()) {
        RecentProject one;
        one.folder = folder;
        one.name = settings.value(setting(folder, "name"), QFileInfo(folder).fileName()).toString();
        one.scene = settings.value(setting(folder, "scene")).toString();
        one.last = settings.value(setting(folder, "last")).toDateTime();
        one.isThere = QFileInfo::exists(QDir(folder).filePath("project.json"));
        one.picture.load(pictureFile(folder));
        all.push_back(one);
    }
    return all;
}

void rememberProject(const QString& folder, const QString& name, const QString& scene) {
    QSettings settings;
    QStringList all = settings.value(kRecent).toStringList();
    all.removeAll(folder);
    all.prepend(folder);
    while (all.size() > kMost) {
        const QString gone = all.takeLast();
        settings.remove("projects/seen/" + keyOf(gone));
        QFile::remove(pictureFile(gone));
    }
    settings.setValue(kRecent, all);
    settings.setValue(setting(folder, "name"), name);
    settings.setValue(setting(folder, "scene"), scene);
    settings.setValue(setting(folder, "last"), QDateTime::currentDateTime());
}

void keepPicture(const QString& folder, const QPixmap& picture) {
    const QString file = pictureFile(folder);
    if (picture.isNull() || !QDir().mkpath(QFileInfo(file).path())) return;
    picture.save(file);
}

void forgetProject(const QString& folder) {
    QSettings settings;
    QStringList all = settings.value(kRecent).toStringList();
    all.removeAll(folder);
    settings.setValue(kRecent, all);
    settings.remove("projects/seen/" + keyOf(folder));
    QFile::remove(pictureFile(folder));
}

}  // namespace app
