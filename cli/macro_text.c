/* macro_text.c - see macro_text.h. */
#include "macro_text.h"

#include "uvrek/hid.h"
#include "uvrek/problem.h"
#include "uvrek/program.h"
#include "uvrek/value.h"

#include <string.h>

#define PAUSE_LEAST 20000u /* microseconds: what is shorter is not meant */
#define PAUSE_STEP  10u    /* milliseconds that a pause is told in */
#define LINE_MOST   76u    /* characters of a macro on one line */

struct writing {
    GPtrArray *steps; /* of char * */
    GString *typed;   /* characters since the last other step */
    uint8_t alone;    /* modifiers that are down, and nothing has happened with */
    bool pauses, begun;
    uint64_t last; /* microseconds of the latest step */
};

static const struct uvk_moment *moment_at(const GArray *moments, guint index)
{
    return index < moments->len ? &g_array_index(moments, struct uvk_moment, index) : NULL;
}

static bool is_notice(const struct uvk_moment *moment, enum uvk_notice_kind kind)
{
    return moment != NULL && moment->kind == UVK_MOMENT_NOTICE && moment->notice.kind == kind;
}

static void end_text(struct writing *writing)
{
    if (writing->typed->len > 0) {
        char *text = uvk_string_text(writing->typed->str);
        g_ptr_array_add(writing->steps, g_strconcat("type ", text, NULL));
        g_free(text);
        g_string_truncate(writing->typed, 0);
    }
}

static void pause(struct writing *writing, uint64_t time)
{
    uint64_t gap = time - writing->last;

    if (writing->pauses && writing->begun && gap >= PAUSE_LEAST) {
        end_text(writing);
        g_ptr_array_add(
            writing->steps,
            g_strdup_printf("wait %ums", (unsigned)(gap / 1000 / PAUSE_STEP) * PAUSE_STEP));
    }
    writing->begun = true;
    writing->last = time;
}

/* STEP becomes the list's. */
static void add(struct writing *writing, uint64_t time, char *step)
{
    pause(writing, time);
    end_text(writing);
    g_ptr_array_add(writing->steps, step);
}

static bool is_mod(const struct uvk_notice *notice)
{
    return notice->page == UVK_HID_PAGE_KEYBOARD && notice->usage >= UVK_HID_FIRST_MOD &&
           notice->usage <= UVK_HID_LAST_MOD;
}

static uint8_t bit_of(const struct uvk_notice *notice)
{
    return (uint8_t)(1u << (notice->usage - UVK_HID_FIRST_MOD));
}

/* A button is clicked, a key tapped with the modifiers that are down. */
static void tap(struct writing *writing, const struct uvk_notice *notice, uint64_t time)
{
    bool button = notice->page == UVK_HID_PAGE_BUTTON;
    const struct uvk_value value = {.kind = UVK_VALUE_USAGE,
                                    .mods = button ? 0 : notice->mods,
                                    .page = notice->page,
                                    .usage = notice->usage};
    char *key = uvk_value_text(&value);

    if (button && g_str_has_prefix(key, "click-")) {
        add(writing, time, g_strconcat("click ", key + strlen("click-"), NULL));
    } else {
        add(writing, time, g_strconcat("tap ", key, NULL));
    }
    g_free(key);
}

/* The character that a press has typed stands behind it. */
static const char *text_of(const GArray *moments, guint index)
{
    const struct uvk_notice *press = &moment_at(moments, index)->notice;
    const struct uvk_moment *next = moment_at(moments, index + 1);

    return is_notice(next, UVK_NOTICE_TEXT) && next->notice.usage == press->usage
               ? next->notice.text
               : NULL;
}

static void press(struct writing *writing, const GArray *moments, guint index)
{
    const struct uvk_moment *moment = moment_at(moments, index);
    const char *text = text_of(moments, index);

    if (is_mod(&moment->notice)) {
        writing->alone |= bit_of(&moment->notice);
        return;
    }
    writing->alone = 0;
    if (text != NULL) {
        pause(writing, moment->time);
        g_string_append(writing->typed, text);
    } else {
        tap(writing, &moment->notice, moment->time);
    }
}

static void release(struct writing *writing, const struct uvk_moment *moment)
{
    uint8_t bit;
    char *key;

    if (!is_mod(&moment->notice)) {
        return;
    }
    bit = bit_of(&moment->notice);
    if ((writing->alone & bit) != 0) {
        key = uvk_notice_text(&moment->notice);
        add(writing, moment->time, g_strconcat("tap ", key, NULL));
        g_free(key);
    }
    writing->alone &= (uint8_t)~bit;
}

/* False: it is nothing that a macro can do. */
static bool read_moment(struct writing *writing, const GArray *moments, guint index,
                        GError **error)
{
    const struct uvk_moment *moment = moment_at(moments, index);

    if (is_notice(moment, UVK_NOTICE_PRESS)) {
        press(writing, moments, index);
    } else if (is_notice(moment, UVK_NOTICE_RELEASE)) {
        release(writing, moment);
    } else if (is_notice(moment, UVK_NOTICE_MOVE)) {
        g_set_error_literal(
            error, UVK_PROBLEM, UVK_NOT_DONE,
            "the pointer or the wheel was moved, and no macro can do that: record it without");
        return false;
    }
    return true;
}

static char *statement(const char *name, GPtrArray *steps)
{
    char *line;
    char *text;

    g_ptr_array_add(steps, NULL);
    line = g_strjoinv("; ", (char **)steps->pdata);
    if (strlen(line) <= LINE_MOST) {
        text = g_strdup_printf("macro %s { %s }", name, line);
    } else {
        char *lines = g_strjoinv("\n    ", (char **)steps->pdata);
        text = g_strdup_printf("macro %s {\n    %s\n  }", name, lines);
        g_free(lines);
    }
    g_free(line);
    return text;
}

char *macro_text(const char *name, const GArray *moments, uint64_t start, bool pauses,
                 GError **error)
{
    struct writing writing = {.steps = g_ptr_array_new_with_free_func(g_free),
                              .typed = g_string_new(NULL),
                              .pauses = pauses};
    char *text = NULL;
    bool good = true;

    for (guint i = 0; good && i < moments->len; i++) {
        good = moment_at(moments, i)->time < start || read_moment(&writing, moments, i, error);
    }
    end_text(&writing);
    if (good && writing.steps->len > 0) {
        text = statement(name, writing.steps);
    }
    g_string_free(writing.typed, TRUE);
    g_ptr_array_unref(writing.steps);
    return text;
}
