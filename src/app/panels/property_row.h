#pragma once
// One row of PropertyRows: a property's label and the editor of its type. For this folder's sources.
#include <QLabel>
#include <QToolButton>
#include <functional>
#include <vector>

#include "app/kit/number_field.h"
#include "app/panels/property_rows.h"

namespace app {

/// Does it lead to objects, by itself or as a list?
bool linksObjects(const model::Property& property);

/// What is typed is finished from these.
void offerIn(QLineEdit* edit, const std::vector<model::Choice>& choices);

class PropertyRow : public QWidget {
  public:
    PropertyRow(PropertyRows& rows, const PropertyShown& shown);
    const PropertyShown& shown() const { return shown_; }
    bool fits(const QString& filter) const;
    void refresh(const PropertyShown& shown);

    bool isPinned() const;

  protected:
    void contextMenuEvent(QContextMenuEvent* event) override;

  private:
    QString toolTip() const;
    void name(QWidget* editor) const;
    QString key() const;
    /// As it is typed: records by their names. Empty: several objects with different values.
    QString labelled(const model::Property& p) const;
    QString textOf(const PropertyShown& s) const;
    void choose(model::Value value);
    NumberField* number(base::Quantity quantity, int decimals);
    QWidget* make(const model::Property& p);
    QWidget* makeNumber(const model::Property& p);
    QWidget* makeBool();
    QWidget* makeText();
    QWidget* makeLongText();
    QWidget* makeChoice();
    QWidget* makeCondition();
    QWidget* makeFlags(const model::Property& p);
    QWidget* makeColour();
    QWidget* makeNumbers(std::size_t count);
    QWidget* makeCurve();
    QWidget* makeRecord(const model::Property& p);
    /// A name out of a list: an item's, or that of a file in media.
    QWidget* makeNamed(const model::Property& p);
    model::ValueList listNow() const;
    /// With one part of the list moved by `by`, or taken out when that is 0.
    void rearrange(std::size_t at, int by);
    /// A line for each part, to be changed, moved and taken out; one more at the end adds.
    QWidget* makeList(const model::Property& p);
    QWidget* listLine(const QString& text, std::size_t at, std::size_t of,
                      const std::function<void(const QString&)>& typed);
    /// What it leads to, a button to point at another, and the list of what fits.
    QWidget* makeLinks(const model::Property&);
    /// Of a link in a list, by a right click.
    void addListActs(QToolButton* chip, std::size_t at, std::size_t of);

    PropertyRows& rows_;
    PropertyShown shown_;
    QLabel* label_;
    std::vector<QWidget*> lines_;  // of a list
    std::vector<QToolButton*> chips_;
    std::function<void(const PropertyShown&)> update_;
};

}  // namespace app
