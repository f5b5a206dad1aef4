// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_tones.h"

#include "workbench/model/starting_points.h"
#include "workbench/ui/look/icons.h"
#include "workbench/ui/look/sentence_word.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

namespace {

const QStringList& toneWords() {
    static const QStringList words{QStringLiteral("neutral"), QStringLiteral("note"), QStringLiteral("good"),
                                   QStringLiteral("caution"), QStringLiteral("bad")};
    return words;
}

} // namespace

PartTones::PartTones(Look& look, BoardModel& model, const DesignDraft& draft, const std::string& pointer,
                     QWidget* parent)
    : QWidget(parent), look_(look), model_(model), draft_(draft), pointer_(pointer),
      column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(0, 0, 0, 0);
    column_->setSpacing(5);
    auto* heading = new QLabel(tr("Its tone"), this);
    heading->setFont(look_.font(11.5));
    heading->setStyleSheet(QStringLiteral("color: %1;").arg(look_.quiet.name()));
    heading->setContentsMargins(0, 5, 0, 0);
    column_->addWidget(heading);
    const Json all = rules();
    for (std::size_t i = 0; i < all.size(); ++i) {
        addRule(i, all[i]);
    }
    auto* add = new QPushButton(tr("+ a rule for its tone"), this);
    add->setObjectName(QStringLiteral("addTone"));
    add->setFont(look_.font(12));
    add->setFlat(true);
    add->setCursor(Qt::PointingHandCursor);
    add->setStyleSheet(
        QStringLiteral("QPushButton { color: %1; text-align: left; border: none; padding: 2px; }"
                       "QPushButton:focus { border: 1px solid %1; padding: 1px; }")
            .arg(look_.accent.name()));
    connect(add, &QPushButton::clicked, this, [this] {
        Json more = rules();
        // A rule about what the part says holds somewhere, so it shows at once what it does.
        more.push_back({{"tone", "caution"}, {"when", firstRule()}});
        want(tr("tone rule"), more);
    });
    column_->addWidget(add);
}

/// One tone without a rule holds always.
Json PartTones::rules() const {
    const Json tone = draft_.member(pointer_, "tone");
    return tone.is_array() ? tone : tone.is_string() ? Json::array({{{"tone", tone}}}) : Json::array();
}

std::string PartTones::firstRule() const {
    const RecordTable* records = model_.records();
    const std::string word = partWordOf(*draft_.part(pointer_));
    const Json binding = draft_.member(pointer_, word);
    const std::string said = binding.is_string() ? binding.get<std::string>() : std::string();
    if (records == nullptr || records->fields().empty()) {
        return "@"; // all of them
    }
    std::string named = said.substr(0, said.find_first_of(",}"));
    named = named.substr(named.find('{') == std::string::npos ? 0 : named.find('{') + 1);
    const auto handle = records->find(named);
    const Field& field = handle ? records->field(*handle) : records->fields().front();
    const std::string path =
        isPatternName(field.name) ? "@." + field.name : "@[" + Json(field.name).dump() + "]";
    if (field.type == FieldType::Integer || field.type == FieldType::Real) {
        return path + " > 0";
    }
    const std::vector<std::string> outcomes = model_.outcomes(pointer_, 1);
    return handle && field.type == FieldType::Text && !outcomes.empty()
               ? path + " == " + Json(outcomes[0]).dump()
               : path;
}

void PartTones::addRule(std::size_t index, const Json& rule) {
    auto* box = new QWidget(this);
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    const QString tone = QString::fromStdString(rule.value("tone", std::string("neutral")));
    auto* word = new SentenceWord(look_, tr("The tone"), box);
    word->setObjectName(QStringLiteral("tone%1").arg(index));
    word->setChoices(toneWords());
    word->setWord(tone);
    word->setSize(13);
    word->setFixedWidth(static_cast<int>(look_.scaled(58)));
    auto* line = new QLineEdit(QString::fromStdString(rule.value("when", std::string())), box);
    line->setObjectName(QStringLiteral("rule%1").arg(index));
    line->setAccessibleName(tr("When %1").arg(tone));
    line->setFont(look_.font(12));
    line->setPlaceholderText(tr("always"));
    line->setCursorPosition(0);
    line->setToolTip(
        tr("A condition: @ is the record, as in @.count > $.parameters.many && @.status == \"queried\""));
    auto* gone = new QToolButton(box);
    gone->setStyleSheet(quietButtonSheet(look_));
    setSign(*gone, look_, Sign::Remove, look_.ink);
    gone->setObjectName(QStringLiteral("toneGone%1").arg(index));
    gone->setAccessibleName(tr("Take this rule away"));
    gone->setToolTip(tr("Take this rule away"));
    connect(word, &SentenceWord::wordChosen, this, [this, index](const QString& chosen) {
        Json all = rules();
        all[index]["tone"] = chosen.toStdString();
        want(tr("tone"), all);
    });
    connect(line, &QLineEdit::textEdited, this, [this, index](const QString& typed) {
        Json all = rules();
        if (typed.trimmed().isEmpty()) {
            all[index].erase("when");
        } else {
            all[index]["when"] = typed.trimmed().toStdString();
        }
        want(tr("tone rule"), all);
    });
    connect(line, &QLineEdit::editingFinished, this, &PartTones::typingEnded);
    connect(gone, &QToolButton::clicked, this, [this, index] {
        Json all = rules();
        all.erase(index);
        want(tr("tone rule taken away"), all.empty() ? Json() : all);
    });
    row->addWidget(word);
    row->addWidget(line, 1);
    row->addWidget(gone);
    column_->addWidget(box);
}

} // namespace scorrere::workbench

#include "moc_part_tones.cpp"
