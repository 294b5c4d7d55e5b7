/* lower_lights.c - backlight, strip and lamps: what the image says of them. */
#include "lowering.h"

#include <math.h>
#include <string.h>

#define USUAL_LEVELS 8u
#define USUAL_LEVEL  4u
#define USUAL_SPEED  4000000.0  /* microseconds */
#define A_PERIOD     16777216.0 /* of the pace: 2^24 */
#define QUARTERS     4.0        /* of a key unit */

/* The board's backlight breathes as fast as it says, unless the keymap says otherwise. */
static double period(const struct uvk_program *program)
{
    double own = program->keymap->lights.speed;
    double backlight = program->board->backlight.breathe;

    return own > 0 ? own : backlight > 0 ? backlight : USUAL_SPEED;
}

static void lower_light(struct lowering *lowering)
{
    const struct uvk_board *board = lowering->program->board;
    const struct uvk_lights_text *text = &lowering->program->keymap->lights;
    bool backlight = board->backlight.place.source != NULL;
    struct uvk_light light = {
        .effect = (uint8_t)text->effect,
        .levels = (uint8_t)(backlight ? board->backlight.levels : USUAL_LEVELS),
        .level = (uint8_t)(backlight ? board->backlight.start : USUAL_LEVEL),
        .backlight = backlight,
        .pace = (uint16_t)round(A_PERIOD * 1000.0 / period(lowering->program)),
        .limit = (uint16_t)board->strip.limit,
        .colour = text->colour,
    };

    if (uvk_board_lights_up(board)) {
        add_row(lowering, UVK_TABLE_LIGHT, &light);
    }
}

static void lower_colours(struct lowering *lowering)
{
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned i = 0; i < keymap->layer_count; i++) {
        struct uvk_colour_row row = {(uint8_t)i, keymap->layers[i].light};
        if (keymap->layers[i].light_place.source != NULL &&
            uvk_board_strips(lowering->program->board) > 0) {
            add_row(lowering, UVK_TABLE_COLOURS, &row);
        }
    }
}

static void lower_lamps(struct lowering *lowering)
{
    const struct uvk_board *board = lowering->program->board;
    const struct uvk_keymap *keymap = lowering->program->keymap;

    for (unsigned i = 0; i < board->lamp_count; i++) {
        const struct uvk_lamp_text *lamp = &board->lamps[i];
        struct uvk_lamp_row row = {(uint8_t)lamp->tells, 0};
        if (lamp->tells == UVK_LAMP_LAYER) {
            row.tells = UVK_LAMP_DARK;
        }
        for (unsigned layer = 0; layer < keymap->layer_count; layer++) {
            if (lamp->layer != NULL && strcmp(keymap->layers[layer].name, lamp->layer) == 0) {
                row = (struct uvk_lamp_row){UVK_LAMP_LAYER, (uint8_t)layer};
            }
        }
        add_row(lowering, UVK_TABLE_LAMPS, &row);
    }
}

/* ---- the strip --------------------------------------------------------------------------- */

static uint8_t quarters(double units)
{
    return (uint8_t)CLAMP(round(units * QUARTERS), 0, UINT8_MAX);
}

static void lower_strip(struct lowering *lowering, const struct uvk_scan_plan *scan)
{
    const struct uvk_board *board = lowering->program->board;

    for (unsigned which = 0; which < uvk_board_strips(board); which++) {
        for (unsigned i = 0; i < board->strip.count; i++) {
            struct uvk_strip_lamp lamp = {UVK_NO_LINE, 0, 0, 0};
            unsigned line;
            unsigned sense;
            double x;
            double y;
            uvk_lamp_place(board, which, i, &x, &y);
            lamp.x = quarters(x);
            lamp.y = quarters(y);
            if (board->strip.keys[which][i] >= 0) {
                uvk_scan_switch(scan, board, (unsigned)board->strip.keys[which][i], &line,
                                &sense);
                lamp.line = (uint8_t)line;
                lamp.sense = (uint8_t)sense;
            }
            add_row(lowering, UVK_TABLE_STRIP, &lamp);
        }
    }
}

void lower_lights(struct lowering *lowering, const struct uvk_scan_plan *scan)
{
    lower_light(lowering);
    lower_colours(lowering);
    lower_lamps(lowering);
    lower_strip(lowering, scan);
}
