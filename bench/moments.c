/* moments.c - what happened on a rig, put in order and into words. */
#include "rig.h"

#include "uvrek/hid.h"

#include <string.h>

/* ---- names ------------------------------------------------------------------------ */

/* a+b: the keys of a combo, by its place in the keymap. */
static char *combo_text(const struct uvk_program *program, unsigned row)
{
    const struct uvk_combo_text *combo = program->keymap->combos;
    GString *out = g_string_new(NULL);

    for (; row > 0; row--) {
        combo = combo->next;
    }
    for (unsigned i = 0; i < combo->key_count; i++) {
        const struct uvk_value *cell = &program->keymap->layers[0].cells[combo->keys[i]];
        char *name = uvk_cell_name(program, uvk_value_tap(cell));
        g_string_append_printf(out, "%s%s", i > 0 ? "+" : "", name);
        g_free(name);
    }
    return g_string_free(out, FALSE);
}

char *uvk_moment_source(const struct uvk_program *program, const struct uvk_moment *moment)
{
    return moment->kind == UVK_MOMENT_DECISION && moment->source >= UVK_FIRST_COMBO
               ? combo_text(program, moment->decision.combo)
               : uvk_source_text(program, moment->source);
}

char *uvk_source_text(const struct uvk_program *program, unsigned source)
{
    const struct uvk_board *board = program->board;
    char *place;
    char *tap;
    char *text;

    if (source >= UVK_FIRST_COMBO) {
        return g_strdup("a combo");
    }
    place = uvk_cell_place(board, source);
    if (source >= board->key_count) {
        return place;
    }
    tap = uvk_cell_name(program, uvk_value_tap(&program->keymap->layers[0].cells[source]));
    text = g_strdup_printf("%s (%s)", tap, place);
    g_free(place);
    g_free(tap);
    return text;
}

/* ---- decisions -------------------------------------------------------------------- */

/* %s is the other key that decided it. */
static const char *const reasons[UVK_REASONS] = {
    [UVK_WHY_PLAIN] = "pressed",
    [UVK_WHY_TIME] = "hold: still down after its time",
    [UVK_WHY_UP] = "tap: came up in time",
    [UVK_WHY_PRESS] = "hold: %s was pressed",
    [UVK_WHY_NESTED] = "hold: %s was pressed and came up inside",
    [UVK_WHY_REST] = "tap: no rest before it",
    [UVK_WHY_AGAIN] = "tap: again, quickly",
    [UVK_WHY_ALONE] = "the tap is added: it was held in vain",
    [UVK_WHY_FULL] = "hold: too many keys were waiting",
    [UVK_WHY_COMBO] = "its keys were pressed together",
    [UVK_WHY_OTHER] = "tap: %s was pressed",
    [UVK_WHY_HAND] = "tap: %s, of the same hand, was pressed",
    [UVK_WHY_DANCE] = "a dance",
    [UVK_WHY_DANCE_HELD] = "a dance, the last touch held",
    [UVK_WHY_LEADER] = "the last key of a leader sequence",
    [UVK_WHY_MODS] = "tap: a modifier was down",
    [UVK_WHY_OFF] = "tap: long presses are off",
};

char *uvk_decision_text(const struct uvk_program *program, const struct uvk_decision *decision)
{
    uint16_t after = (uint16_t)(decision->decided - decision->pressed);
    bool names_other = strstr(reasons[decision->reason], "%s") != NULL;
    char *other = names_other ? uvk_source_text(program, decision->cause) : NULL;
    char **parts = g_strsplit(reasons[decision->reason], "%s", 2);
    GString *text = g_string_new(parts[0]);

    if (names_other) {
        g_string_append_printf(text, "%s%s", other, parts[1]);
    }
    if (decision->taps > 0 &&
        (decision->reason == UVK_WHY_DANCE || decision->reason == UVK_WHY_DANCE_HELD)) {
        g_string_append_printf(text, ": %u touch%s", decision->taps,
                               decision->taps == 1 ? "" : "es");
    }
    if (after > 0) {
        g_string_append_printf(text, ", after %u ms", after);
    }
    g_strfreev(parts);
    g_free(other);
    return g_string_free(text, FALSE);
}

/* ---- in order --------------------------------------------------------------------- */

/* What comes first when two moments have one time: a finger, then the keyboard, then the
 * host. */
static gint by_time(gconstpointer a, gconstpointer b)
{
    const struct uvk_moment *left = a;
    const struct uvk_moment *right = b;

    if (left->time != right->time) {
        return left->time > right->time ? 1 : -1;
    }
    return (int)left->kind - (int)right->kind;
}

GArray *uvk_rig_moments(struct uvk_rig *rig)
{
    GArray *moments = g_array_new(FALSE, TRUE, sizeof(struct uvk_moment));
    const GArray *notices = uvk_host_notices(rig->host);

    g_array_append_vals(moments, rig->touches->data, rig->touches->len);
    if (rig->kind->decisions != NULL) {
        rig->kind->decisions(rig, moments);
    }
    for (guint i = 0; i < notices->len; i++) {
        struct uvk_moment moment = {.kind = UVK_MOMENT_NOTICE,
                                    .notice = g_array_index(notices, struct uvk_notice, i)};
        moment.time = moment.notice.time;
        g_array_append_val(moments, moment);
    }
    g_array_sort(moments, by_time);
    return moments;
}

void uvk_moments_free(GArray *moments)
{
    for (guint i = 0; moments != NULL && i < moments->len; i++) {
        g_free(g_array_index(moments, struct uvk_moment, i).text);
    }
    if (moments != NULL) {
        g_array_free(moments, TRUE);
    }
}

/* ---- into words ------------------------------------------------------------------- */

char *uvk_notice_text(const struct uvk_notice *notice)
{
    struct uvk_value value = {
        .kind = UVK_VALUE_USAGE, .page = notice->page, .usage = notice->usage};

    if (notice->kind == UVK_NOTICE_TEXT) {
        return uvk_string_text(notice->text);
    }
    if (notice->kind == UVK_NOTICE_MOVE) {
        value.turn = notice->by > 0 ? 1 : -1;
    } else if (notice->page == UVK_HID_PAGE_KEYBOARD && notice->usage >= UVK_HID_FIRST_MOD) {
        value.mods = (uint8_t)(1u << (notice->usage - UVK_HID_FIRST_MOD));
        value.usage = 0;
    }
    return uvk_value_text(&value);
}

static char *moment_line(const struct uvk_program *program, const struct uvk_moment *moment)
{
    static const char *const ends[] = {"down", "up", "", ""};
    static const char *const cables[] = {"in", "out", "crosses the wrong way"};
    char *name;
    char *line;

    switch (moment->kind) {
    case UVK_MOMENT_CABLE:
        return g_strdup_printf("cable     %s", cables[moment->cable]);
    case UVK_MOMENT_TOUCH:
        name = uvk_source_text(program, moment->source);
        line = moment->source >= program->board->key_count
                   ? g_strdup_printf("finger    turns %s", name)
                   : g_strdup_printf("finger    %s %s", name, moment->down ? "down" : "up");
        break;
    case UVK_MOMENT_DECISION:
        name = uvk_moment_source(program, moment);
        line = g_strdup_printf("keyboard  %s  %s", name, moment->text);
        break;
    default:
        name = uvk_notice_text(&moment->notice);
        line = moment->notice.kind == UVK_NOTICE_MOVE
                   ? g_strdup_printf("host      %s by %d", name, ABS(moment->notice.by))
                   : g_strdup_printf("host      %s %s", name, ends[moment->notice.kind]);
        g_strchomp(line);
        break;
    }
    g_free(name);
    return line;
}

GPtrArray *uvk_moments_lines(const struct uvk_program *program, const GArray *moments,
                             uint64_t start)
{
    GPtrArray *lines = g_ptr_array_new_with_free_func(g_free);

    for (guint i = 0; i < moments->len; i++) {
        const struct uvk_moment *moment = &g_array_index(moments, struct uvk_moment, i);
        char *line;
        if (moment->time < start) {
            continue; /* a chip is enumerated before the play begins */
        }
        line = moment_line(program, moment);
        g_ptr_array_add(lines, g_strdup_printf("%8.1f ms  %s",
                                               (double)(moment->time - start) / 1000, line));
        g_free(line);
    }
    return lines;
}
