/* known.c - see known.h. */
#include "known.h"

#define LAST 0x2122u /* the last character that is listed */

/* Printable ASCII, space and line ends included. */
#define ASCII_COUNT 97u

static bool is_ascii(gunichar character)
{
    return character == '\n' || character == '\t' || (character >= ' ' && character < 0x7F);
}

static bool can_be_typed(struct uvk_layout *layout, gunichar character)
{
    struct uvk_stroke strokes[UVK_SPELL_MAX];

    return uvk_layout_spell(layout, character, strokes) > 0;
}

/* A character in a cell of a table. */
static void append_shown(GString *out, gunichar character)
{
    g_string_append(out, out->len > 0 ? " " : "");
    if (character == '|' || character == '`' || character == '\\' || character == '<' ||
        character == '*' || character == '_' || character == '~') {
        g_string_append_c(out, '\\');
    }
    g_string_append_unichar(out, character);
}

static void append_row(GString *out, enum uvk_system system, const char *name)
{
    struct uvk_layout *layout = uvk_layout_load(system, name);
    GString *missing = g_string_new(NULL);
    GString *more = g_string_new(NULL);
    unsigned ascii = 0;
    unsigned others = 0;

    for (gunichar character = 1; character <= LAST; character++) {
        bool typed = can_be_typed(layout, character);
        ascii += is_ascii(character) && typed;
        if (is_ascii(character) && !typed) {
            append_shown(missing, character);
        } else if (!is_ascii(character) && typed) {
            others++;
            if (system != UVK_LINUX) {
                append_shown(more, character);
            }
        }
    }
    g_string_append_printf(out, "| %s | %s | %u of %u | %s | %u%s%s |\n", name,
                           uvk_system_names[system], ascii, ASCII_COUNT, missing->str, others,
                           more->len > 0 ? ": " : "", more->str);
    g_string_free(missing, TRUE);
    g_string_free(more, TRUE);
    uvk_layout_free(layout);
}

char *known_characters(void)
{
    GString *out = g_string_new(
        "# Characters by layout and system\n\n"
        "`host SYSTEM LAYOUT` in a keymap says who reads its keys. Which keys type a character "
        "depends\non both. For Linux the system's own data say it. For Windows and a Mac there "
        "are tables of what\nis certain: a character that is not known there is an error "
        "(U023) "
        "and never another character.\n`set unicode on` types it by number, where the host "
        "takes that. Keys that only some keyboards\nof a layout have are not used: the one "
        "beside left shift is missing on ANSI boards, and on a Mac\nit changes places with the "
        "one left of 1.\n\n"
        "The first number counts line end, tab, space and the signs of ASCII; the last one "
        "what "
        "is typed\nbeyond ASCII (up to U+2122), with dead keys too.\n\n"
        "| layout | system | ASCII | missing | others |\n| --- | --- | --- | --- | --- |\n");

    for (size_t i = 0; uvk_layout_names[i] != NULL; i++) {
        for (unsigned system = UVK_LINUX; system <= UVK_MAC; system++) {
            append_row(out, (enum uvk_system)system, uvk_layout_names[i]);
        }
    }
    return g_string_free(out, FALSE);
}
