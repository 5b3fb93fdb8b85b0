#include "app/panels/condition_field.h"

#include <QHBoxLayout>
#include <algorithm>

#include "app/kit/parts.h"
#include "app/kit/quiet_wheel.h"

namespace app {

using model::Condition;
using model::PropertyType;
using Op = model::Condition::Op;

namespace {

bool isAmount(PropertyType type) {
    return type == PropertyType::Integer || type == PropertyType::Number || type == PropertyType::Angle ||
           type == PropertyType::Time;
}

/// What a new condition on a property asks: something that can be true.
Condition usualFor(const model::Property& p) {
    if (isAmount(p.type)) return {Op::More, p.name, "0"};
    if (p.type == PropertyType::Bool) return {Op::Is, p.name, "true"};
    return {Op::Is, p.name, p.choices.empty() ? std::string() : p.choices.front().value};
}

}  // namespace

ConditionField::ConditionField(QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    const std::tuple<QComboBox**, const char*, QString> boxes[] = {
        {&property_, "conditionProperty", tr("The property that is asked")},
        {&sign_, "conditionSign", tr("How it is compared")},
        {&choice_, "conditionChoice", tr("What it is compared with")}};
    for (const auto& [box, name, text] : boxes) {
        *box = new QComboBox;
        (*box)->setObjectName(QLatin1String(name));
        (*box)->setAccessibleName(text);
        (*box)->setToolTip(text);
        (*box)->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        (*box)->setMinimumContentsLength(6);
        new QuietWheel(*box);
        row->addWidget(*box, 1);
    }
    row->addWidget(operand_ = new QLineEdit, 1);
    operand_->setObjectName("conditionOperand");
    operand_->setAccessibleName(tr("What it is compared with"));
    operand_->setToolTip(tr("What it is compared with"));
    connect(property_, &QComboBox::activated, this, &ConditionField::chooseProperty);
    connect(sign_, &QComboBox::activated, this, [this] {
        if (!now_) return;
        if (const model::Property* p = property(); p != nullptr && p->type == PropertyType::Bool)
            now_->operand = "true";
        now_->op = static_cast<Op>(sign_->currentData().toInt());
        tell();
    });
    connect(choice_, &QComboBox::activated, this, [this] {
        if (!now_) return;
        now_->operand = choice_->currentData().toString().toStdString();
        tell();
    });
    connect(operand_, &QLineEdit::editingFinished, this, [this] {
        if (!now_ || !operand_->isModified()) return;
        operand_->setModified(false);
        now_->operand = operand_->text().trimmed().toStdString();
        tell();
    });
}

const model::Property* ConditionField::property() const {
    if (!now_) return nullptr;
    const auto place =
        std::find_if(asked_.begin(), asked_.end(), [&](const auto& p) { return p.name == now_->property; });
    return place != asked_.end() ? &*place : nullptr;
}

void ConditionField::show(const std::vector<model::Property>& asked, const QString& condition) {
    asked_ = asked;
    now_.reset();
    if (auto read = model::parseCondition(condition.toStdString())) now_ = std::move(*read);
    property_->clear();
    property_->addItem(tr("always"), QString());
    for (const model::Property& p : asked_) property_->addItem(toQt(p.label), toQt(p.name));
    const QString name = now_ ? toQt(now_->property) : QString();
    if (property_->findData(name) < 0) property_->addItem(tr("missing: %1").arg(name), name);
    property_->setCurrentIndex(property_->findData(name));
    fillSigns();
    fillOperand();
}

void ConditionField::chooseProperty() {
    const std::string name = property_->currentData().toString().toStdString();
    if (name == (now_ ? now_->property : std::string())) return;
    const auto place = std::find_if(asked_.begin(), asked_.end(), [&](const auto& p) { return p.name == name; });
    now_ = place != asked_.end() ? std::optional(usualFor(*place)) : std::nullopt;
    tell();
}

void ConditionField::fillSigns() {
    const model::Property* p = property();
    const bool yes = p != nullptr && p->type == PropertyType::Bool;
    std::vector<std::pair<QString, Op>> signs = {{yes ? tr("is on") : tr("is"), Op::Is},
                                                 {yes ? tr("is off") : tr("is not"), Op::IsNot}};
    if (p == nullptr || isAmount(p->type))
        for (const auto& [text, op] :
             {std::pair{"<", Op::Less}, {"≤", Op::AtMost}, {">", Op::More}, {"≥", Op::AtLeast}})
            signs.emplace_back(QString::fromUtf8(text), op);
    // "lit = false" is what "!lit" says.
    Op op = now_ ? now_->op : Op::Is;
    if (yes && now_->operand == "false") op = op == Op::Is ? Op::IsNot : Op::Is;
    sign_->clear();
    for (const auto& [text, one] : signs) sign_->addItem(text, static_cast<int>(one));
    sign_->setCurrentIndex(sign_->findData(static_cast<int>(op)));
    sign_->setVisible(now_.has_value());
}

void ConditionField::fillOperand() {
    const model::Property* p = property();
    const bool yes = p != nullptr && p->type == PropertyType::Bool, listed = p != nullptr && !p->choices.empty();
    choice_->setVisible(now_ && listed);
    operand_->setVisible(now_ && !listed && !yes);
    choice_->clear();
    if (!now_) return;
    const QString operand = toQt(now_->operand);
    if (listed) {
        for (const model::Choice& c : p->choices) choice_->addItem(toQt(c.label), toQt(c.value));
        if (choice_->findData(operand) < 0) choice_->addItem(operand, operand);
        choice_->setCurrentIndex(choice_->findData(operand));
    }
    if (operand_->hasFocus() && operand_->isModified()) return;
    operand_->setText(operand);
    operand_->setModified(false);
}

void ConditionField::tell() {
    Q_EMIT changed(now_ ? toQt(model::conditionText(*now_)) : QString());
}

}  // namespace app
