// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_picker.h"

#include "analyses/serving.h"
#include "app/file_dialogs.h"
#include "app/panes/model_help.h"
#include "app/panes/model_picture.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "models/catalogue.h"
#include "session/own_models.h"

#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QScreen>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kPicturesAcross = 4, kWidth = 536, kHeight = 560;
constexpr std::size_t kMostServing = 8;

constexpr std::string_view kKept = "kept:"; // before the name of a kept equation

// Those of the project, then those of the personal library that are not among them.
std::vector<UserModel> keptModels(const Document& document) {
    std::vector<UserModel> kept;
    for (const auto& m : document.project().models) kept.push_back(*m);
    for (UserModel& m : modelsIn(personalModels()).value)
        if (std::ranges::find(kept, m.name, &UserModel::name) == kept.end()) kept.push_back(std::move(m));
    return kept;
}

// Each group of letters typed occurs in the name, the purpose or the group.
bool fits(const KindInfo& info, const QString& typed) {
    const QString all = (text(info.name) + " " + text(info.purpose) + " " + text(info.group)).toLower();
    return std::ranges::all_of(typed.simplified().toLower().split(' ', Qt::SkipEmptyParts),
                               [&](const QString& word) { return all.contains(word); });
}

std::vector<std::string> groupsOf() {
    std::vector<std::string> groups;
    for (const models::ModelKind& kind : models::catalogue())
        if (std::ranges::find(groups, kind.info.group) == groups.end()) groups.push_back(kind.info.group);
    return groups;
}

} // namespace

ModelPicker::ModelPicker(Document& document, const AnalysisInput& input, const std::string& chosen,
                         QWidget* parent)
    : QFrame(parent, Qt::Popup), document_(document), job_(this), now_(chosen), search_(new QLineEdit),
      scroll_(new QScrollArea), column_(new QVBoxLayout) {
    setObjectName("picker");
    setAttribute(Qt::WA_DeleteOnClose);
    resize(kWidth, kHeight);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 12, 12, 12);
    search_->setObjectName("pickerSearch");
    search_->setPlaceholderText(tr("Search models by name or purpose"));
    search_->setAccessibleName(tr("Search models"));
    layout->addWidget(search_);
    auto* inner = new QWidget;
    column_ = new QVBoxLayout(inner);
    column_->setContentsMargins(0, 4, 8, 4);
    column_->setSpacing(4);
    preparePaneScroll(*scroll_, inner, tr("Models"));
    layout->addWidget(scroll_, 1);
    connect(search_, &QLineEdit::textEdited, this, &ModelPicker::build);
    kept_ = keptModels(document);
    build({});
    lookForServing(input);
}

void ModelPicker::openAt(QPoint topRight) {
    QPoint at(topRight.x() - width(), topRight.y());
    if (const QScreen* on = screen()) {
        const QRect room = on->availableGeometry();
        at.setX(std::max(room.left() + 4, at.x()));
        at.setY(std::max(room.top() + 4, std::min(at.y(), room.bottom() - height() - 4)));
    }
    move(at);
    show();
    search_->setFocus();
}

void ModelPicker::build(const QString& typed) {
    // The row of those that would serve stays as it is.
    if (serving_) {
        column_->removeWidget(serving_);
        serving_->setParent(this);
        serving_->hide();
    }
    clearLayout(column_);
    first_.clear();
    if (serving_ && typed.isEmpty()) {
        column_->addWidget(serving_);
        serving_->show();
    }
    for (const std::string& group : groupsOf()) {
        std::vector<QWidget*> tiles;
        for (const models::ModelKind& kind : models::catalogue()) {
            if (kind.info.group != group || !fits(kind.info, typed)) continue;
            if (first_.empty()) first_ = kind.info.key;
            QWidget* made = tile(kind.info.key, text(kind.info.name), {},
                                 modelPicture(kind.info.key, devicePixelRatioF()));
            made->setToolTip(modelHelp(kind.info.key));
            tiles.push_back(made);
        }
        if (tiles.empty()) continue;
        addHeading(text(group));
        addTiles(tiles);
        if (group == "Your own") addKept(typed);
    }
    if (first_.empty())
        column_->addWidget(muted(tr("No model is called so. An own equation takes any formula.")));
    column_->addStretch(1);
}

std::optional<UserModel> ModelPicker::keptModel(const std::string& key) const {
    if (!key.starts_with(kKept)) return std::nullopt;
    const auto at = std::ranges::find(kept_, key.substr(kKept.size()), &UserModel::name);
    return at == kept_.end() ? std::nullopt : std::optional(*at);
}

// The kept equations, one below the other with their formulas, and a way to take in a file.
void ModelPicker::addKept(const QString& typed) {
    for (const UserModel& m : kept_) {
        const QString name = text(m.name), formula = text(m.equation).simplified();
        if (!typed.isEmpty() && !name.contains(typed, Qt::CaseInsensitive)) continue;
        auto* row = button(this, QString("%1    %2").arg(name, formula.left(50)), "part", formula,
                           [this, key = std::string(kKept) + m.name] {
                               Q_EMIT chosen(text(key));
                               close();
                           });
        column_->addWidget(row);
    }
    column_->addWidget(button(this, tr("from a file…"), "link",
                              tr("Takes in an equation that somebody gave you"), [this] { addFromFile(); }),
                       0, Qt::AlignLeft);
}

void ModelPicker::addFromFile() {
    Document& document = document_;
    QWidget* owner = parentWidget();
    const QString file =
        ask::file(owner, document, tr("Equation"), tr("Kept equations (*.json)"));
    if (file.isEmpty()) return;
    const auto model = readModelFile(file.toStdString());
    if (!model) return document.say(text(model.error().sentence()));
    document.apply(edits::keepModel(*model));
    kept_.insert(kept_.begin(), *model); // before one of the same name
    Q_EMIT chosen(text(std::string(kKept) + model->name));
    close();
}

void ModelPicker::addHeading(const QString& words) {
    column_->addWidget(caption(words));
}

void ModelPicker::addTiles(const std::vector<QWidget*>& tiles) {
    auto* grid = new QGridLayout;
    grid->setSpacing(4);
    for (std::size_t k = 0; k < tiles.size(); ++k)
        grid->addWidget(tiles[k], static_cast<int>(k) / kPicturesAcross, static_cast<int>(k) % kPicturesAcross);
    grid->setColumnStretch(kPicturesAcross, 1);
    column_->addLayout(grid);
}

QWidget* ModelPicker::tile(const std::string& key, const QString& name, const QString& below,
                           const QImage& picture) {
    auto* made = new QPushButton;
    made->setObjectName("tile");
    made->setCheckable(true);
    made->setChecked(key == now_);
    made->setFixedSize(kPictureSize.width() + 16, kPictureSize.height() + (below.isEmpty() ? 44 : 58));
    made->setAccessibleName(name);
    auto* layout = new QVBoxLayout(made);
    layout->setContentsMargins(4, 4, 4, 4);
    layout->setSpacing(0);
    auto* image = new QLabel;
    if (!picture.isNull()) image->setPixmap(QPixmap::fromImage(picture));
    image->setFixedHeight(kPictureSize.height());
    image->setAlignment(Qt::AlignCenter);
    auto* label = new QLabel(name);
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignHCenter | Qt::AlignTop);
    label->setObjectName("tileName");
    layout->addWidget(image);
    layout->addWidget(label, 1);
    if (!below.isEmpty()) {
        QLabel* further = muted(below);
        further->setAlignment(Qt::AlignCenter);
        layout->addWidget(further);
    }
    for (QLabel* part : made->findChildren<QLabel*>()) part->setAttribute(Qt::WA_TransparentForMouseEvents);
    connect(made, &QPushButton::clicked, this, [this, key] {
        Q_EMIT chosen(text(key));
        close();
    });
    return made;
}

// Tried in the background; they appear above the library when they are known.
void ModelPicker::lookForServing(const AnalysisInput& input) {
    job_.request(
        [this, input, project = document_.project(), evaluator = document_.session().sharedEvaluator()](
            const Cancellation& stop) -> std::function<void()> {
            const auto protocol = evaluator->protocol(project, input.dataset, {.stop = stop});
            const auto curve = std::make_shared<const Curve>(protocol.at(input.point).curve());
            auto found = std::make_shared<std::vector<analyses::Serving>>(
                analyses::fitsThatServe(*curve, input.span, stop));
            return [this, found, curve] {
                waiting_ = false;
                if (found->empty()) return;
                serving_ = new QWidget;
                auto* layout = new QVBoxLayout(serving_);
                layout->setContentsMargins(0, 0, 0, 8);
                layout->setSpacing(4);
                layout->addWidget(caption(tr("Fits that would serve this dataset")));
                auto* grid = new QGridLayout;
                grid->setSpacing(4);
                for (std::size_t k = 0; k < std::min(kMostServing, found->size()); ++k) {
                    const analyses::Serving& s = (*found)[k];
                    const models::ModelKind* kind = models::catalogue().find(s.key);
                    const QString words = s.aiccDifference < 0.05
                                              ? tr("best AICc")
                                              : tr("AICc +%1").arg(text(readableNumber(s.aiccDifference, 3)));
                    QWidget* made = tile(s.key, text(kind->info.name), words,
                                         fitPicture(s.key, s.parameters, *curve, devicePixelRatioF()));
                    made->setToolTip(modelHelp(s.key));
                    grid->addWidget(made, static_cast<int>(k) / kPicturesAcross, static_cast<int>(k) % kPicturesAcross);
                }
                grid->setColumnStretch(kPicturesAcross, 1);
                layout->addLayout(grid);
                build(search_->text());
            };
        });
}

void ModelPicker::keyPressEvent(QKeyEvent* e) {
    if (e->key() != Qt::Key_Return && e->key() != Qt::Key_Enter) return QFrame::keyPressEvent(e);
    if (first_.empty()) return;
    Q_EMIT chosen(text(first_));
    close();
}

} // namespace jointer::app
