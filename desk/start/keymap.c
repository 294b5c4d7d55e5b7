/* keymap.c - the text of a first keymap, with plays, and of a readme. */
#include "arrange.h"

#include "uvrek/hid.h"
#include "uvrek/start.h"

#include <string.h>

/* ---- the text
 * --------------------------------------------------------------------------------- */

static void append_layer(GString *out, const struct start *start, const char *name,
                         char *const *cells, const char *turns)
{
    const struct uvk_board *board = start->board;

    g_string_append_printf(out, "\n  layer %s {\n", name);
    for (unsigned line = 0; line < board->line_count; line++) {
        GString *text = g_string_new(NULL);
        for (unsigned i = 0; i < board->key_count; i++) {
            if (board->keys[i].line == line) {
                g_string_append_printf(text, "  %s", cells[i] != NULL ? cells[i] : ".");
            }
        }
        g_string_append_printf(out, "  %s%s", text->str, text->len > 0 ? "\n" : "");
        g_string_free(text, TRUE);
    }
    for (unsigned i = 0; turns != NULL && i < board->knob_count; i++) {
        g_string_append_printf(out, "    knob %s %s\n", board->knobs[i].name, turns);
    }
    g_string_append(out, "  }\n");
}

/* Steps that press the key at INDEX, by its address. */
static void append_step(GString *out, const struct start *start, const char *step,
                        unsigned index)
{
    char *place = uvk_cell_place(start->board, index);

    g_string_append_printf(out, "%s %s; ", step, place);
    g_free(place);
}

/* A play that taps the first plain keys of the first layer. */
static void append_first_play(GString *out, const struct start *start)
{
    GString *keys = g_string_new(NULL);
    unsigned found = 0;

    g_string_append(out, "\nplay \"the first keys\" {\n  ");
    for (unsigned i = 0; i < start->board->key_count && found < 3; i++) {
        const struct uvk_key_name *key = uvk_key_named(start->first[i]);
        if (key != NULL && key->page == UVK_HID_PAGE_KEYBOARD && key->usage != 0) {
            append_step(out, start, "tap", i);
            g_string_append_printf(keys, " %s", start->first[i]);
            found++;
        }
    }
    g_string_append_printf(out, "settle\n  expect keys%s\n}\n", keys->str);
    g_string_free(keys, TRUE);
}

/* A play that holds the second layer's key and taps the first plain key there. */
static void append_second_play(GString *out, const struct start *start)
{
    int held = start_second_key(start);

    for (unsigned i = 0; held >= 0 && i < start->board->key_count; i++) {
        const struct uvk_key_name *key =
            start->second[i] != NULL ? uvk_key_named(start->second[i]) : NULL;
        if (key != NULL && key->page == UVK_HID_PAGE_KEYBOARD && key->usage != 0) {
            g_string_append(out, "\nplay \"a key of the second layer\" {\n  ");
            append_step(out, start, "down", (unsigned)held);
            g_string_append(out, "wait 250ms; ");
            append_step(out, start, "tap", i);
            append_step(out, start, "up", (unsigned)held);
            g_string_append_printf(out, "settle\n  expect keys %s\n}\n", start->second[i]);
            return;
        }
    }
}

char *uvk_start_keymap(const struct uvk_board *board, const char *name, const char *board_file)
{
    unsigned count = board->key_count;
    struct start start = {board, g_new0(char *, count + 1), g_new0(char *, count + 1), false,
                          false};
    GString *out = g_string_new(NULL);
    char *file = uvk_string_text(board_file);

    start_fill(&start);
    g_string_append_printf(out, "use %s\n\nkeymap %s {\n", file, name);
    g_string_append(out,
                    "  host linux us      # the system and layout that will read the keys\n");
    append_layer(out, &start, "base", start.first, "volume-down volume-up");
    if (start_second_key(&start) >= 0) {
        g_string_append_printf(out, "\n  # while the key `%s` is held", START_SECOND);
        append_layer(out, &start, START_SECOND, start.second, NULL);
    }
    g_string_append(out, "}\n");
    append_first_play(out, &start);
    append_second_play(out, &start);
    for (unsigned i = 0; i < count; i++) {
        g_free(start.first[i]);
        g_free(start.second[i]);
    }
    g_free(start.first);
    g_free(start.second);
    g_free(file);
    return g_string_free(out, FALSE);
}

char *uvk_start_readme(const struct uvk_board *board, const char *name, const char *board_file,
                       const char *keymap_file)
{
    static const char *const steps[][2] = {{"check", "every mistake and doubt"},
                                           {"play ", "the plays, on a simulated keyboard"},
                                           {"sheet", "the layers, seen"},
                                           {"tidy ", "the cells lined up"},
                                           {"ready", "what is needed to build and to flash"},
                                           {"build", "the firmware"},
                                           {"flash", "into the keyboard"}};
    GString *out = g_string_new(NULL);
    char *place = uvk_cell_place(board, 0);

    g_string_append_printf(out,
                           "# %s, on %s\n\n- `%s`: the board, its keys and its wires.\n"
                           "- `%s`: the keymap, and plays that say what is expected of it.\n\n",
                           name, board->title, board_file, keymap_file);
    for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
        g_string_append_printf(out, "    uvrek %s %s     %s\n", steps[i][0], keymap_file,
                               steps[i][1]);
    }
    if (!uvk_one_controller(board)) {
        g_string_append(out,
                        "\nBoth halves are flashed, one after the other; `uvrek flash` says "
                        "which comes next.\nTake the USB cable out before you join the halves "
                        "or part them.\n");
    }
    g_string_append_printf(
        out,
        "\n`uvrek explain --list` shows every key; `uvrek explain %s %s` says "
        "what that key does.\n",
        place, keymap_file);
    g_free(place);
    return g_string_free(out, FALSE);
}
