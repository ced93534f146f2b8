// What the Help menu does: finding a command, the list of keys, the tour, the guide.

#include <QApplication>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QStackedWidget>

#include "window/help/command_finder.h"
#include "window/help/guide.h"
#include "window/help/tour.h"
#include "window/shell/main_window.h"

namespace dune::window {

void MainWindow::makeHelpMenu() {
  QMenu* help = menuBar()->addMenu(tr("&Help"));
  help->addAction(tr("Find a command…"), QKeySequence(tr("Ctrl+K")), this, &MainWindow::findCommand);
  help->addAction(tr("All keys…"), QKeySequence(tr("Ctrl+/")), this, &MainWindow::listKeys);
  help->addAction(tr("Tour of the window"), this, &MainWindow::startTour);
  help->addAction(tr("Guide…"), QKeySequence::HelpContents, this, &MainWindow::showGuide);
  help->addSeparator();
  help->addAction(tr("About Dune Step…"), this, &MainWindow::showAbout);
}

std::vector<Command> MainWindow::commands() {
  std::vector<Command> all = menuCommands(*menuBar());
  for (int i = 0; i < stopCount(); ++i) {
    auto own = sheetCommands(*sheet(i), stops_[static_cast<std::size_t>(i)]->name(), [this, i] {
      if (stop() != i) goTo(i);
    });
    std::ranges::move(own, std::back_inserter(all));
  }
  return all;
}

void MainWindow::findCommand() {
  auto* finder = new CommandFinder(commands(), tr("Find a command"), tr("Type a part of its name, then Enter"), this);
  finder->open();
}

void MainWindow::listKeys() {
  std::vector<Command> all = worldCommands();
  for (Command& c : menuCommands(*menuBar()))
    if (!c.keys.isEmpty()) all.push_back(std::move(c));
  auto* list = new CommandFinder(std::move(all), tr("All keys"), tr("Find a key or what it does"), this);
  list->open();
}

void MainWindow::startTour() {
  delete findChild<Tour*>();
  new Tour(
      {{trail_, tr("The line of steps"),
        tr("The work in its order. Under each step stands how it is there: what was found, what is out of date, how far work is. Click "
           "a step, or press Ctrl and its number.")},
       {stack_, tr("What this step sets"),
        tr("Only what belongs to the step that is open. Drag a number by its name, or type it. Everything can be taken back with "
           "Ctrl+Z.")},
       {view_, tr("The world"),
        tr("Turn it with the right button or the arrow keys, zoom with the wheel. A double click cuts away what is above a place. The "
           "mouse is the agent: it is struck out where it cannot stand.")},
       {readout_, tr("Why, in one sentence"),
        tr("Whatever the mouse points at is explained here: what it is, and why an agent can or cannot stand there.")},
       {ledger_, tr("Findings"),
        tr("What is wrong, worst first. F4 goes to the next one: the view flies there, and a button mends it where there is a remedy.")},
       {menuBar(), tr("Everything by name"),
        tr("Ctrl+K finds any command by a part of its name. The Help menu has all keys and the guide.")}},
      centralWidget()->window());
}

void MainWindow::showGuide() { (new Guide(this))->show(); }

void MainWindow::showAbout() {
  auto* box =
      new QMessageBox(QMessageBox::NoIcon, tr("About Dune Step"),
                      tr("Dune Step %1\n\nNavigation meshes, paths and crowds for games: where agents can walk, why not elsewhere, and "
                         "what is wrong with how they move.\n\nThe core and the batch command are under the MIT licence, the window under "
                         "GPL-3.0-or-later. Made with Qt %2.")
                          .arg(QApplication::applicationVersion(), QLatin1String(qVersion())),
                      QMessageBox::Close, this);
  box->setIconPixmap(QApplication::windowIcon().pixmap(64));
  box->setAttribute(Qt::WA_DeleteOnClose);
  box->open();
}

}  // namespace dune::window
