/* text.h - the whole language in one: a program, its board, its keymap, its plays. Desk side.
 *
 * Each chapter stands by itself as well: value.h, names.h, board.h, scan.h, keymap.h, play.h,
 * program.h.
 */
#ifndef UVREK_TEXT_H
#define UVREK_TEXT_H

#include "uvrek/board.h"
#include "uvrek/keymap.h"
#include "uvrek/names.h"
#include "uvrek/play.h"
#include "uvrek/program.h"
#include "uvrek/scan.h"
#include "uvrek/value.h"

#endif
