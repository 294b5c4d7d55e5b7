/* live_light.c - one lamp of the running keyboard, lit for a while to look at it. */
#include "live.h"

#include "uvrek/lights.h"

#include <stdio.h>
#include <string.h>

#define LIT_S 10u

/* What is to be lit. */
struct lamp {
    enum uvk_light_shown kind;
    unsigned number;
    struct uvk_colour colour;
};

/* "#ff8800". */
static bool read_colour(const char *text, struct uvk_colour *colour)
{
    unsigned value = 0;

    if (text[0] != '#' || strlen(text) != 7) {
        return false;
    }
    for (const char *at = text + 1; *at != '\0'; at++) {
        if (!g_ascii_isxdigit(*at)) {
            return false;
        }
        value = value * 16 + (unsigned)g_ascii_xdigit_value(*at);
    }
    *colour = (struct uvk_colour){(uint8_t)(value >> 16), (uint8_t)(value >> 8 & 0xFFu),
                                  (uint8_t)(value & 0xFFu)};
    return true;
}

static bool lamp_below(const struct uvk_board *board, int key, struct lamp *lamp)
{
    for (unsigned half = 0; key >= 0 && half < uvk_board_strips(board); half++) {
        for (unsigned i = 0; i < board->strip.count; i++) {
            if (board->strip.keys[half][i] == key) {
                lamp->kind = UVK_SHOWN_STRIP;
                lamp->number = half * board->strip.count + i;
                return true;
            }
        }
    }
    return false;
}

static bool own_lamp(const struct uvk_board *board, const char *name, struct lamp *lamp)
{
    for (unsigned i = 0; i < board->lamp_count; i++) {
        if (strcmp(uvk_lamp_name(&board->lamps[i]), name) == 0) {
            lamp->kind = UVK_SHOWN_LAMP;
            lamp->number = i;
            return true;
        }
    }
    return false;
}

/* "backlight", "strip", a lamp by what it tells, the lamp below a key. */
static bool find_lamp(const struct uvk_board *board, const char *name, struct lamp *lamp)
{
    if (strcmp(name, "backlight") == 0 && board->backlight.place.source != NULL) {
        lamp->kind = UVK_SHOWN_BACKLIGHT;
        return true;
    }
    if (strcmp(name, "strip") == 0 && board->strip.place.source != NULL) {
        lamp->kind = UVK_SHOWN_STRIP;
        lamp->number = UVK_SHOWN_EACH;
        return true;
    }
    return own_lamp(board, name, lamp) || lamp_below(board, uvk_cell_at(board, name), lamp);
}

static bool read_words(const struct uvk_board *board, int count, char **words,
                       struct lamp *lamp)
{
    *lamp = (struct lamp){.colour = {UINT8_MAX, UINT8_MAX, UINT8_MAX}};
    if (!find_lamp(board, words[0], lamp)) {
        complain(
            "the board '%s' has no light '%s': backlight, strip, a lamp of its own, or the "
            "address of a key that lies above one",
            board->name, words[0]);
        return false;
    }
    if (count > 1 && !read_colour(words[1], &lamp->colour)) {
        complain("'%s' is no colour; one is written '#ff8800'", words[1]);
        return false;
    }
    return true;
}

int live_light(const struct live_wishes *wishes, int count, char **words)
{
    struct session session;
    struct lamp lamp;
    GError *error = NULL;
    int status;

    if (!session_read(&session, wishes, words[0], &status)) {
        return status;
    }
    if (!read_words(session.program->board, count - 1, words + 1, &lamp)) {
        status = STATUS_NOT_DONE;
    } else if (!session_find(&session, &error) || !session_open(&session, &error) ||
               !uvk_live_light(session.live, lamp.kind, lamp.number, lamp.colour, LIT_S,
                               &error)) {
        status = print_problem(error);
    } else {
        printf("%s is lit for %u seconds\n", words[1], LIT_S);
    }
    session_end(&session);
    return status;
}
