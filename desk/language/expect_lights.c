/* expect_lights.c - what a play expects of the lights. */
#include "reading.h"

#include "uvrek/names.h"

#include <string.h>

/* expect light level N */
static bool read_level(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step)
{
    double level;

    if (!want_number(reading, want(reading, statement, 3, UVK_NODE_NUMBER, "a level"), 0,
                     UVK_LEVELS_MAX, "a level", &level)) {
        return false;
    }
    step->kind = UVK_STEP_EXPECT_LEVEL;
    step->x = (int)level;
    want_end(reading, statement, 4);
    return true;
}

static bool has_lamp(const struct uvk_strip *strip, unsigned key)
{
    for (unsigned half = 0; half < UVK_HALVES; half++) {
        for (unsigned i = 0; i < strip->count; i++) {
            if (strip->keys[half][i] == (int)key) {
                return true;
            }
        }
    }
    return false;
}

/* expect light #RRGGBB at KEY */
static bool read_colour(struct reading *reading, const struct uvk_node *statement,
                        struct uvk_step *step)
{
    static const char *const at[] = {"at", NULL};
    const struct uvk_node *key;

    if (want_word(reading, want(reading, statement, 3, UVK_NODE_NAME, "'at' and a key"),
                  UVK_SAYS_EXPECTED, at, "word") < 0) {
        return false;
    }
    key = item(statement, 4);
    if (key == NULL) {
        want(reading, statement, 4, UVK_NODE_NAME, "a key");
        return false;
    }
    if (!find_key(reading, key, &step->key)) {
        return false;
    }
    if (!has_lamp(&reading->board->strip, step->key)) {
        uvk_say(reading->messages, UVK_SAYS_DOES_NOT_FIT, key->place,
                "at r0c0 r0c1 ... in the strip says what lies above each lamp",
                "no lamp lies below this key");
        return false;
    }
    step->kind = UVK_STEP_EXPECT_COLOUR;
    step->x = (int)item(statement, 2)->number;
    want_end(reading, statement, 5);
    return true;
}

/* expect light off | EFFECT */
static bool read_word(struct reading *reading, const struct uvk_node *statement,
                      struct uvk_step *step)
{
    const struct uvk_node *word =
        want(reading, statement, 2, UVK_NODE_NAME, "level N, off, an effect or a colour");
    int effect;

    if (word == NULL) {
        return false;
    }
    want_end(reading, statement, 3);
    step->kind = UVK_STEP_EXPECT_LEVEL; /* off: dark */
    if (strcmp(word->text, "off") == 0) {
        return true;
    }
    effect = want_word(reading, word, UVK_SAYS_EXPECTED, uvk_effect_names, "effect");
    step->kind = UVK_STEP_EXPECT_EFFECT;
    step->x = effect;
    return effect >= 0;
}

bool read_expect_light(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step)
{
    const struct uvk_node *what = item(statement, 2);

    if (!uvk_board_lights_up(reading->board)) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, statement->place, NULL,
                "this board has no backlight and no strip");
        return false;
    }
    if (what != NULL && what->kind == UVK_NODE_COLOUR) {
        return read_colour(reading, statement, step);
    }
    return what != NULL && what->kind == UVK_NODE_NAME && strcmp(what->text, "level") == 0
               ? read_level(reading, statement, step)
               : read_word(reading, statement, step);
}

/* ---- lamps with a pin of their own ------------------------------------------------------- */

static const char *lamp_name(size_t index, const void *data)
{
    return uvk_lamp_name(&((const struct uvk_board *)data)->lamps[index]);
}

/* The bit of the lamp that NODE names; 0: there is none, which is told. */
static int lamp_bit(struct reading *reading, const struct uvk_node *node)
{
    const struct uvk_board *board = reading->board;
    char *fix;

    for (unsigned i = 0; i < board->lamp_count && node->kind == UVK_NODE_NAME; i++) {
        if (strcmp(uvk_lamp_name(&board->lamps[i]), node->text) == 0) {
            return 1 << i;
        }
    }
    fix = node->kind == UVK_NODE_NAME
              ? did_you_mean(node->text, board->lamp_count, lamp_name, board)
              : NULL;
    uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, fix,
            board->lamp_count > 0 ? "the board has no such lamp"
                                  : "the board has no lamps with a pin of their own");
    g_free(fix);
    return 0;
}

/* expect lamps NAME ... | nothing */
bool read_expect_lamps(struct reading *reading, const struct uvk_node *statement,
                       struct uvk_step *step)
{
    const struct uvk_node *node = item(statement, 2);

    if (node == NULL) {
        want(reading, statement, 2, UVK_NODE_NAME, "the lamps that are lit, or 'nothing'");
        return false;
    }
    if (node->kind == UVK_NODE_NAME && strcmp(node->text, "nothing") == 0) {
        want_end(reading, statement, 3);
        return true;
    }
    for (; node != NULL && node->kind != UVK_NODE_BLOCK; node = node->next) {
        int bit = lamp_bit(reading, node);
        if (bit == 0) {
            return false;
        }
        step->x |= bit;
    }
    return true;
}
