// SPDX-License-Identifier: GPL-3.0-or-later
#include "workbench/ui/item/part_menus.h"

#include "workbench/model/design_edit.h"
#include "workbench/model/starting_points.h"

#include <QMenu>

namespace scorrere::workbench {

using Json = nlohmann::ordered_json;

void openAddMenu(QWidget* owner, const QFont& font, QPoint global, const CollectionDocument& document,
                 const RecordTable& records, const std::function<void(const Json& part)>& chosen) {
    const FieldRoles roles = fieldRoles(records);
    const std::string any = !roles.title.empty()       ? roles.title
                            : records.fields().empty() ? std::string()
                                                       : records.fields().front().name;
    QMenu menu(owner);
    menu.setObjectName(QStringLiteral("addMenu"));
    menu.setFont(font);
    const auto offer = [&](const QString& word, PartType type, const std::string& field, bool can) {
        QAction* action = menu.addAction(word);
        action->setEnabled(can);
        QObject::connect(action, &QAction::triggered, owner,
                         [chosen, type, field] { chosen(newPart(type, field)); });
    };
    offer(QObject::tr("&Text"), PartType::Text, any, true);
    offer(QObject::tr("&Badge"), PartType::Badge, roles.status.empty() ? any : roles.status, true);
    offer(QObject::tr("&Picture"), PartType::Picture, roles.picture.empty() ? any : roles.picture, true);
    offer(QObject::tr("&Meter"), PartType::Meter, roles.number, !roles.number.empty());
    offer(QObject::tr("&Scale"), PartType::Scale, roles.step.empty() ? roles.number : roles.step,
          !roles.step.empty() || !roles.number.empty());
    offer(QObject::tr("&Repeat a list"), PartType::Repeat, roles.list, !roles.list.empty());
    offer(QObject::tr("Str&ip of a list"), PartType::Strip, roles.list, !roles.list.empty());
    menu.addSeparator();
    offer(QObject::tr("&Line"), PartType::Line, {}, true);
    offer(QObject::tr("S&pace"), PartType::Space, {}, true);
    menu.addSeparator();
    offer(QObject::tr("R&ow"), PartType::Row, {}, true);
    offer(QObject::tr("&Column"), PartType::Column, {}, true);
    offer(QObject::tr("&Wrap"), PartType::Wrap, {}, true);
    offer(QObject::tr("O&ver each other"), PartType::Over, {}, true);
    if (!document.pieces.empty()) {
        menu.addSeparator();
    }
    for (const auto& [name, piece] : document.pieces) {
        Json part = {{"piece", name}};
        for (const std::string& input : piece.inputs) {
            part["with"][input] = "{" + any + "}";
        }
        QObject::connect(menu.addAction(QObject::tr("Piece %1").arg(QString::fromStdString(name))),
                         &QAction::triggered, owner, [chosen, part] { chosen(part); });
    }
    menu.exec(global);
}

void openBoxMenu(QWidget* owner, const QFont& font, QPoint global,
                 const std::function<void(PartType box)>& chosen) {
    QMenu menu(owner);
    menu.setObjectName(QStringLiteral("boxMenu"));
    menu.setFont(font);
    const auto offer = [&](const QString& word, PartType box) {
        QObject::connect(menu.addAction(word), &QAction::triggered, owner, [chosen, box] { chosen(box); });
    };
    offer(QObject::tr("Into a &row"), PartType::Row);
    offer(QObject::tr("Into a &column"), PartType::Column);
    offer(QObject::tr("Into a &wrap"), PartType::Wrap);
    offer(QObject::tr("&Over each other"), PartType::Over);
    menu.exec(global);
}

} // namespace scorrere::workbench
