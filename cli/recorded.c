/* recorded.c - a recording of `uvrek live watch --json`: an event a line. */
#include "recorded.h"

#include "uvrek/source.h"

#include <errno.h>
#include <string.h>

#define MS_MOST (60u * 60u * 1000u)

static void touch_free(void *data)
{
    struct touch *touch = data;

    g_string_free(touch->does, TRUE);
    g_free(touch);
}

GPtrArray *recorded_touches(void)
{
    return g_ptr_array_new_with_free_func(touch_free);
}

struct touch *recorded_add(GPtrArray *touches, uint64_t time, unsigned cell, bool down)
{
    struct touch *touch = g_new(struct touch, 1);

    *touch = (struct touch){time, cell, down, g_string_new(NULL)};
    g_ptr_array_add(touches, touch);
    return touch;
}

void recorded_does(struct touch *touch, const char *text)
{
    g_string_append_printf(touch->does, "%s%s", touch->does->len > 0 ? ", " : "", text);
}

struct touch *recorded_press(const GPtrArray *touches, unsigned cell, uint64_t time)
{
    for (guint i = touches->len; i > 0; i--) {
        struct touch *touch = touches->pdata[i - 1];
        if (touch->down && touch->cell == cell && touch->time <= time) {
            return touch;
        }
    }
    return NULL;
}

/* ---- a line ----------------------------------------------------------------------------- */

struct reading {
    const struct uvk_board *board;
    const char *path;
    unsigned line;
    struct recorded *recorded;
};

static bool wrong(const struct reading *reading, GError **error, const char *what,
                  const char *name)
{
    char *seen = name != NULL ? g_strescape(name, NULL) : NULL;

    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s:%u: %s%s%s%s", reading->path,
                reading->line, what, seen != NULL ? " '" : "", seen != NULL ? seen : "",
                seen != NULL ? "'" : "");
    g_free(seen);
    return false;
}

static const char *text_of(const json_t *json, const char *name)
{
    return json_string_value(json_object_get(json, name));
}

/* Its time in microseconds; never before that of the touch before it. */
static bool read_time(const struct reading *reading, const json_t *json, uint64_t *time,
                      GError **error)
{
    const json_t *ms = json_object_get(json, "ms");

    if (!json_is_integer(ms) || json_integer_value(ms) < 0) {
        return wrong(reading, error, "the event has no time", NULL);
    }
    if (json_integer_value(ms) > MS_MOST) {
        return wrong(reading, error, "the recording is longer than an hour", NULL);
    }
    *time = (uint64_t)json_integer_value(ms) * 1000;
    return true;
}

static bool read_contact(const struct reading *reading, const json_t *json, GError **error)
{
    GPtrArray *touches = reading->recorded->touches;
    const char *place = text_of(json, "place");
    bool down = json_is_true(json_object_get(json, "down"));
    uint64_t time = 0;
    int cell;

    if (!read_time(reading, json, &time, error)) {
        return false;
    }
    if (touches->len > 0 && time < ((struct touch *)touches->pdata[touches->len - 1])->time) {
        return wrong(reading, error, "the event is earlier than the one before", NULL);
    }
    cell = place != NULL ? uvk_cell_at(reading->board, place) : -1;
    if (cell < 0) {
        return wrong(reading, error, "the board has no key", place != NULL ? place : "");
    }
    /* of a key that was down when the recording began, only the end is there */
    if (down || recorded_press(touches, (unsigned)cell, time) != NULL) {
        (void)recorded_add(touches, time, (unsigned)cell, down);
    }
    return true;
}

static bool read_decision(const struct reading *reading, const json_t *json, GError **error)
{
    const char *place = text_of(json, "place");
    const char *does = text_of(json, "does");
    struct touch *press;
    uint64_t time = 0;
    int cell;

    if (!read_time(reading, json, &time, error)) {
        return false;
    }
    cell = place != NULL ? uvk_cell_at(reading->board, place) : -1; /* combos are at no place */
    press = cell >= 0 ? recorded_press(reading->recorded->touches, (unsigned)cell, time) : NULL;
    if (press != NULL && does != NULL) {
        recorded_does(press, does);
    }
    return true;
}

static bool read_lost(const struct reading *reading, const json_t *json)
{
    reading->recorded->lost += (unsigned)json_integer_value(json_object_get(json, "events"));
    return true;
}

static bool read_line(const struct reading *reading, const char *line, GError **error)
{
    json_t *json = json_loads(line, 0, NULL);
    const char *kind = text_of(json, "kind");
    bool good = true;

    if (kind == NULL) {
        good = wrong(reading, error, "this is no event of `uvrek live watch --json`", NULL);
    } else if (strcmp(kind, "contact") == 0) {
        good = read_contact(reading, json, error);
    } else if (strcmp(kind, "decision") == 0) {
        good = read_decision(reading, json, error);
    } else if (strcmp(kind, "lost") == 0) {
        good = read_lost(reading, json);
    }
    json_decref(json);
    return good;
}

/* ---- the whole -------------------------------------------------------------------------- */

static bool read_lines(struct reading *reading, char *text, GError **error)
{
    char *rest = text;
    char *line;
    bool good = true;

    while (good && (line = strsep(&rest, "\n")) != NULL) {
        reading->line++;
        good = *line == '\0' || read_line(reading, line, error);
    }
    if (good && reading->recorded->touches->len == 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s: no key is pressed in it",
                    reading->path);
        good = false;
    }
    return good;
}

struct recorded *recorded_read(const char *path, const struct uvk_program *program,
                               GError **error)
{
    struct reading reading = {program->board, path, 0, g_new0(struct recorded, 1)};
    size_t size = 0;
    char *text = uvk_source_bytes(path, &size);
    bool good = text != NULL && size <= UVK_SOURCE_MAX;

    reading.recorded->touches = recorded_touches();
    if (!good) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "%s cannot be read: %s", path,
                    text == NULL ? g_strerror(errno) : "it is larger than 4 MiB");
    }
    good = good && read_lines(&reading, text, error);
    g_free(text);
    if (!good) {
        recorded_free(reading.recorded);
        return NULL;
    }
    return reading.recorded;
}

void recorded_free(struct recorded *recorded)
{
    if (recorded != NULL) {
        g_ptr_array_unref(recorded->touches);
        g_free(recorded);
    }
}
