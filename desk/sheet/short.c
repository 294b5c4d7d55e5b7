/* short.c - see short.h. */
#include "short.h"

#include <string.h>

/* What is known by a sign or a short form, for where there are fewer than LEAST characters. The
 * four arrows go together; of two forms of a name the longer one comes first. */
static const struct {
    const char *name, *shown;
    glong least;
} short_forms[] = {
    {"backspace", "bksp", 9},
    {"delete", "del", 6},
    {"insert", "ins", 6},
    {"left", "←", 5},
    {"right", "→", 5},
    {"up", "↑", 5},
    {"down", "↓", 5},
    {"space", "spc", 5},
    {"enter", "⏎", 5},
    {"shift", "shft", 5},
    {"shift", "⇧", 4},
    {"right-shift", "shft", 11},
    {"right-alt", "alt", 9},
    {"right-ctrl", "ctrl", 10},
    {"right-gui", "gui", 9},
    {"page-up", "pgup", 7},
    {"page-down", "pgdn", 9},
    {"caps-lock", "caps", 9},
    {"print-screen", "prt", 12},
    {"scroll-lock", "scrl", 11},
    {"volume-up", "vol+", 9},
    {"volume-down", "vol-", 11},
    {"play-pause", "play", 10},
};

/* What stands before a name, shorter. */
static const struct {
    const char *before, *shown;
} short_starts[] = {{"ctrl+", "^"},  {"shift+", "⇧"}, {"alt+", "a+"},   {"gui+", "g+"},
                    {"once:", "1:"}, {"only:", "="},  {"toggle:", "±"}, {"board:", ""}};

static const char *short_name(const char *text, glong width)
{
    const char *shown = text;

    for (size_t i = 0; i < G_N_ELEMENTS(short_forms); i++) {
        if (width < short_forms[i].least && strcmp(short_forms[i].name, text) == 0) {
            shown = short_forms[i].shown;
        }
    }
    return shown;
}

char *short_text(const char *text, glong width)
{
    GString *out = g_string_new(NULL);

    for (size_t i = 0; i < G_N_ELEMENTS(short_starts); i++) {
        glong room = width - g_utf8_strlen(out->str, -1);
        if (g_utf8_strlen(short_name(text, room), -1) > room &&
            g_str_has_prefix(text, short_starts[i].before)) {
            text += strlen(short_starts[i].before);
            g_string_append(out, short_starts[i].shown);
        }
    }
    g_string_append(out, short_name(text, width - g_utf8_strlen(out->str, -1)));
    return g_string_free(out, FALSE);
}
