// SPDX-License-Identifier: GPL-3.0-or-later
// Figure: the page on a desk with rulers in mm, the settings of what is selected at the right, thumbnails of
// the figures below.
#pragma once

#include "app/background.h"
#include "app/canvas/page_view.h"
#include "app/document.h"
#include "app/stages/figure_side.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QMimeData;
class QPushButton;

namespace jointer::app {

class FigureStage final : public QWidget {
    Q_OBJECT
public:
    explicit FigureStage(Document& document, QWidget* parent = nullptr);
    PageView* page() { return page_; }
    void focusSetting(ElementId element, const std::string& key) { side_->focusSetting(element, key); }
    void addFigure(); // of what is selected
    void addMarksOf(const std::vector<DatasetId>& datasets);
    void offerMarks(); // pictures of how the selected dataset would look

    // One action each, by its key; Find and the menu offer them too.
    struct Now {
        const Project& project;
        const Figure& figure;
        const figure::Layout& layout;
        evaluate::Evaluator& evaluator;
        ElementId panel, only; // the one that is worked in; none: all of them
        const Element* element;
        std::vector<ElementId> elements;                 // all that are selected
        std::function<std::vector<Element>()> likeliest; // marks of the selected dataset
    };
    struct Action {
        std::string key;
        const char *name = "", *tip = "";
        std::function<std::optional<Edit>(const Now&)> edit{}; // none: the figure has nothing for it
        std::function<bool(const Now&)> serves{};              // whether a menu offers it; none: always
        const char* group = "";                                // a menu within the menu
    };
    static const std::vector<Action>& actions();
    void act(const std::string& key);
    void addNote(const std::string& key); // of figure::newNotes()
    void placeFiles(const QStringList& paths); // artwork, in the background
    static bool holdsArtwork(const QMimeData& data);
    bool pasteArtwork(const QMimeData& data); // false: it holds none
    void askForArtwork();
    void saveOriginal(); // of the selected artwork
    bool isPlacing() const { return placingCount_ > 0; }
    void offerOtherDatasets();
    void editStyles();                            // on a page of their own
    void checkForJournal();                       // what a publisher would send back
    QPoint exportCorner(const QWidget* in) const; // below the right end of the button

Q_SIGNALS:
    void exportWanted();

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    static std::vector<Action> makeActions();
    QWidget* buildStrip();
    QWidget* buildThumbnails();
    void buildBeginning();
    void refreshBeginning();
    void refresh();
    void refreshThumbnails();
    void offerActions(QPoint at);
    void offerForFigure(QPoint at);
    void begin(const Edit& figure);
    void addFigure(const std::vector<Element>& marks);
    void drawChosen(const std::vector<Element>& marks);
    void drawDropped(const QString& ids, int where, ElementId panel);
    void duplicate();
    void selectAfter(FigureId figure); // the one that follows it
    std::vector<Element> likeliest(const std::vector<DatasetId>& datasets);
    void offerNotes();
    void offerArtwork();
    void placeFigure(FigureId other);
    void placeTaken(const QString& name, std::function<Result<Asset>(const Cancellation&)> take);
    void selectNewest();
    QString factsOfArtwork() const; // of the selected one
    std::vector<figure::SymbolClass> classesOfElement() const;
    bool haveFigure();
    TableId tableInView() const;
    ElementId notesGoTo(const Figure& figure) const;
    ElementId shownPanel() const;
    Now now(const Figure& figure);
    std::shared_ptr<const Figure> shownFigure() const;

    Document& document_;
    LatestJob thumbnails_;
    JobQueue placing_; // of artwork that is being converted
    int placingCount_ = 0;
    PageView* page_;
    QListWidget* figures_;
    FigureId scrolledTo_; // its thumbnail was brought into sight
    FigureSide* side_;
    QLabel *size_, *beginning_ = nullptr;
    QPushButton *draw_ = nullptr, *arrange_ = nullptr, *zoom_ = nullptr, *begin_ = nullptr,
                *export_ = nullptr, *note_ = nullptr, *artwork_ = nullptr, *check_ = nullptr;
};

} // namespace jointer::app
