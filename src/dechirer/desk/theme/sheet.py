"""The style sheet of the desk: `{role}` stands for a colour, `{tick}` and `{down}` for small pictures."""

from __future__ import annotations

SHEET = """
QToolTip { color: {ink}; background: {surface}; border: 1px solid {rule}; padding: 4px; }
QLineEdit { background: {surface}; color: {ink}; border: 1px solid {rule-strong};
    border-radius: 4px; padding: 3px 7px; min-height: 20px; selection-background-color: {accent-fill};
    selection-color: {on-accent}; }
QLineEdit:focus { border: 2px solid {accent}; padding: 2px 6px; }
QComboBox { background: {surface}; color: {ink}; border: 1px solid {rule-strong}; border-radius: 4px;
    padding: 2px 4px 2px 7px; min-height: 20px; }
QComboBox:focus { border: 2px solid {accent}; padding: 1px 3px 1px 6px; }
QComboBox:disabled { color: {soft}; border-color: {rule}; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url("{down}"); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: {surface}; color: {ink}; border: 1px solid {rule};
    selection-background-color: {accent-wash}; selection-color: {ink}; }
QPushButton { background: {surface}; color: {accent}; border: 1px solid {accent}; border-radius: 4px;
    padding: 4px 12px; font-weight: 600; }
QPushButton:hover { background: {accent-wash}; }
QPushButton:focus { border: 2px solid {accent}; padding: 3px 11px; }
QPushButton:disabled { color: {soft}; border-color: {rule}; }
QPushButton[main="true"] { background: {accent-fill}; color: {on-accent}; }
QToolButton { border: none; border-radius: 4px; padding: 4px 9px; color: {ink}; background: transparent; }
QToolButton:hover { background: {sunken}; }
QToolButton:focus { border: 1px solid {accent}; padding: 3px 8px; }
QToolButton:disabled { color: {soft}; }
QToolButton:checked { background: {accent-fill}; color: {on-accent}; }
QToolButton[quiet="true"] { color: {accent}; }
QToolButton[quiet="true"]:disabled { color: {soft}; }
QToolButton[quiet="true"]:checked { background: {accent-wash}; color: {accent}; }
QToolButton[main="true"] { background: {accent-fill}; color: {on-accent}; font-weight: 600; padding: 5px 14px; }
QToolButton::menu-indicator { image: none; }
QMenu { background: {surface}; color: {ink}; border: 1px solid {rule}; padding: 4px; }
QMenu::item { padding: 5px 26px 5px 14px; border-radius: 3px; }
QMenu::item:selected { background: {accent-wash}; color: {ink}; }
QMenu::item:disabled { color: {soft}; }
QScrollArea { border: none; background: transparent; }
QScrollArea > QWidget > QWidget { background: transparent; }
QTextBrowser { border: none; background: transparent; }
QListView { border: none; background: transparent; outline: none; }
QAbstractScrollArea::corner { background: transparent; border: none; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar::handle:vertical { background: {rule-strong}; border-radius: 4px; min-height: 28px; margin: 1px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar:horizontal { background: transparent; height: 10px; }
QScrollBar::handle:horizontal { background: {rule-strong}; border-radius: 4px; min-width: 28px; margin: 1px; }
QSlider:horizontal { min-height: 22px; }
QSlider::groove:horizontal { height: 4px; background: {rule}; border-radius: 2px; }
QSlider::sub-page:horizontal { background: {accent}; border-radius: 2px; }
QSlider::handle:horizontal { background: {surface}; border: 2px solid {accent}; width: 14px; height: 14px;
    margin: -7px 0; border-radius: 9px; }
QSlider::handle:horizontal:focus { background: {accent-wash}; }
QLabel[role="soft"] { color: {soft}; }
QFrame[chip="true"] { background: {surface}; border: 1px solid {rule}; border-radius: 6px; }
QFrame[chip="true"] QLabel { border: none; background: transparent; }
QLabel[role="stop"] { color: {stop}; }
QToolButton[role="stop"] { color: {stop}; }
QToolButton[role="clear"] { color: {clear}; }
QToolButton[role="look"] { color: {look}; }
QLabel[role="accent"] { color: {accent}; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid {rule-strong}; border-radius: 3px;
    background: {surface}; }
QCheckBox::indicator:checked { background: {accent-fill}; border-color: {accent-fill}; image: url("{tick}"); }
QCheckBox::indicator:focus { border: 2px solid {accent}; }
QCheckBox:disabled { color: {soft}; }
QCheckBox, QRadioButton { spacing: 7px; color: {ink}; }
"""
