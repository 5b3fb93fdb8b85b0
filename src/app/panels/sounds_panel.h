#pragma once
// The sounds of the project in the desk: how each one looks, how long and loud it is, where it is used; heard by a
// click or the space bar, placed where one looks.
#include <QLabel>
#include <QTableWidget>
#include <QToolButton>
#include <QWidget>
#include <map>

#include "app/shell/editor.h"
#include "io/sound_file.h"

namespace app {

class Listening;

/// The kind of thing a drag from the list of sounds carries: the name of a file of media, UTF-8.
inline constexpr const char* kSoundMime = "application/x-mellow-sound";

class SoundsPanel : public QWidget {
    Q_OBJECT
  public:
    SoundsPanel(Editor& editor, Listening& listening, QWidget* parent = nullptr);
    /// Files become sounds of the project, as one step.
    void add(const QStringList& files);
    void chooseFiles();

  Q_SIGNALS:
    void placeAsked(const std::string& file);

  protected:
    void showEvent(QShowEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    struct Known {
        std::int64_t stamp = 0;
        std::optional<io::SoundFacts> facts;  ///< nothing: it could not be read
        std::string problem;
    };
    void fill();
    void readNext();
    void fillRow(int row);
    std::string chosen() const;
    void listen();

    Editor& editor_;
    Listening& listening_;
    QTableWidget* table_;
    QLabel* empty_;
    QToolButton *listen_, *place_, *add_, *mute_;
    std::vector<std::string> files_;
    std::map<std::string, Known> known_;
};

}  // namespace app
