#include "app/shell/kept_place.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "base/files.h"
#include "io/local_folder.h"

namespace app {

namespace {

constexpr const char* kFile = "window.json";
constexpr double kFarthest = 1e7;

/// Within what a camera can be; nothing: it cannot.
std::optional<render::Camera> cameraIn(const QJsonObject& object) {
    const QJsonArray eye = object["eye"].toArray();
    if (eye.size() != 3) return std::nullopt;
    render::Camera camera;
    camera.eye = {eye[0].toDouble(), eye[1].toDouble(), eye[2].toDouble()};
    camera.yawDegrees = object["yaw"].toDouble();
    camera.pitchDegrees = object["pitch"].toDouble();
    camera.heightMetres = object["height"].toDouble();
    const bool usable = glm::length(camera.eye) < kFarthest && std::abs(camera.yawDegrees) < 1e6 &&
                        std::abs(camera.pitchDegrees) <= 90 && camera.heightMetres >= 0 &&
                        camera.heightMetres < kFarthest;
    return usable ? std::optional(camera) : std::nullopt;
}

QJsonObject toJson(const render::Camera& camera) {
    return {{"eye", QJsonArray{camera.eye.x, camera.eye.y, camera.eye.z}},
            {"yaw", camera.yawDegrees},
            {"pitch", camera.pitchDegrees},
            {"height", camera.heightMetres}};
}

}  // namespace

KeptPlace KeptPlace::read(const std::filesystem::path& project) {
    KeptPlace kept;
    const auto local = io::localFolder(project);
    const auto text = local ? base::readFile(*local / kFile, base::most::kSmall) : base::Result<std::string>("");
    const QJsonObject all = QJsonDocument::fromJson(QByteArray::fromStdString(text.value_or(""))).object();
    kept.scene = all["scene"].toString().toStdString();
    const QJsonObject cameras = all["cameras"].toObject();
    for (auto one = cameras.begin(); one != cameras.end(); ++one)
        if (const auto camera = cameraIn(one.value().toObject())) kept.cameras[one.key().toStdString()] = *camera;
    return kept;
}

void KeptPlace::write(const std::filesystem::path& project) const {
    const auto local = io::localFolder(project);
    if (!local || !base::isFolder(*local)) return;
    QJsonObject all{{"scene", QString::fromStdString(scene)}}, places;
    for (const auto& [name, camera] : cameras) places[QString::fromStdString(name)] = toJson(camera);
    all["cameras"] = places;
    (void)base::writeFileWhole(*local / kFile, QJsonDocument(all).toJson().toStdString());
}

}  // namespace app
