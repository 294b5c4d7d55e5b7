/* support.c - see support.h. */
#include "support.h"

#include <ftw.h>
#include <glib/gstdio.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

bool few_rounds(void)
{
    return g_getenv("UVREK_ONE_SEED") != NULL;
}

struct uvk_program *good_program(const char *text)
{
    struct uvk_program *program = uvk_program_read("test.uvk", text, strlen(text));

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        char *rendered = uvk_message_render(message, false);
        if (message->severity == UVK_ERROR) {
            print_error("%s", rendered);
        }
        g_free(rendered);
    }
    assert_int_equal(program->messages.errors, 0);
    return program;
}

static void move_pins(const struct uvk_pin **pins, unsigned count, const struct uvk_chip *from,
                      const struct uvk_chip *to)
{
    for (unsigned i = 0; i < count; i++) {
        size_t index = (size_t)(pins[i] - from->pins);
        assert_true(index < to->pin_count);
        pins[i] = &to->pins[index];
    }
}

struct made make_image(const char *text)
{
    struct made made = {.program = good_program(text)};
    uint16_t size;

    made.bytes = uvk_lower(made.program, &size);
    assert_non_null(made.bytes);
    assert_int_equal(uvk_image_open(&made.image, made.bytes, size), UVK_OK);
    return made;
}

void clear_image(struct made *made)
{
    g_free(made->bytes);
    uvk_program_free(made->program);
}

void move_to_chip(struct uvk_program *program, const char *chip)
{
    struct uvk_board *board = (struct uvk_board *)program->board;
    const struct uvk_chip *from = board->chip;
    const struct uvk_chip *to = uvk_chip_named(chip);

    board->chip = to;
    for (unsigned i = 0; i < board->half_count; i++) {
        struct uvk_half *half = &board->halves[i];
        move_pins(half->rows, half->row_count, from, to);
        move_pins(half->cols, half->col_count, from, to);
        move_pins(half->direct, half->direct_count, from, to);
    }
    for (unsigned i = 0; i < board->knob_count; i++) {
        move_pins(board->knobs[i].pins, 2, from, to);
    }
    if (board->backlight.pin != NULL) {
        move_pins(&board->backlight.pin, 1, from, to);
    }
    if (board->strip.pin != NULL) {
        move_pins(&board->strip.pin, 1, from, to);
    }
    for (unsigned i = 0; i < board->lamp_count; i++) {
        move_pins(&board->lamps[i].pin, 1, from, to);
    }
}

void desk_open(struct desk *desk, const char *text, const struct uvk_rig_options *options)
{
    struct uvk_rig_options usual = {.seed = 1, .bounce = UVK_BOUNCE_DEFAULT};
    GError *error = NULL;

    desk->program = good_program(text);
    desk->image = uvk_lower(desk->program, &desk->size);
    assert_non_null(desk->image);
    desk->rig = uvk_rig_native(desk->program, desk->image, desk->size,
                               options != NULL ? options : &usual, &error);
    assert_null(error);
}

void desk_close(struct desk *desk)
{
    uvk_rig_free(desk->rig);
    g_free(desk->image);
    uvk_program_free(desk->program);
}

static void do_step(struct desk *desk, const char *line)
{
    struct uvk_messages messages;
    struct uvk_outcome outcome = {.play = NULL};
    const struct uvk_step *step;
    int result;

    uvk_messages_init(&messages);
    step = uvk_step_read(desk->program, line, &messages);
    for (guint i = 0; i < messages.list->len; i++) {
        char *text = uvk_message_render(g_ptr_array_index(messages.list, i), false);
        print_error("%s", text);
        g_free(text);
    }
    assert_int_equal(messages.errors, 0);
    uvk_messages_clear(&messages);
    if (step == NULL) {
        return;
    }
    result = uvk_step_run(desk->program, desk->rig, step, &outcome, NULL);
    if (result == 0) {
        print_error("%s: expected %s, got %s\n", line, outcome.expected, outcome.got);
    }
    uvk_outcome_clear(&outcome);
    assert_int_equal(result, 1);
}

void desk_do(struct desk *desk, const char *steps)
{
    char **lines = g_strsplit(steps, "\n", -1);

    for (char **line = lines; *line != NULL; line++) {
        do_step(desk, *line);
    }
    g_strfreev(lines);
}

void plays_pass(const char *text)
{
    struct uvk_program *program = good_program(text);
    struct uvk_rig_options options = {.seed = 7, .bounce = UVK_BOUNCE_DEFAULT};
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);

    assert_non_null(image);
    assert_non_null(program->plays);
    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        struct uvk_outcome outcome;
        struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, NULL);
        int result = uvk_play_run(program, rig, play, &outcome, NULL);
        if (result == 0) {
            print_error("%s: expected %s, got %s\n", play->name, outcome.expected, outcome.got);
        }
        assert_int_equal(result, 1);
        uvk_outcome_clear(&outcome);
        uvk_rig_free(rig);
    }
    g_free(image);
    uvk_program_free(program);
}

char *messages_of(const char *text)
{
    struct uvk_program *program = uvk_program_read("test.uvk", text, strlen(text));
    char *messages = messages_of_program(program);

    uvk_program_free(program);
    return messages;
}

char *messages_of_program(const struct uvk_program *program)
{
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < program->messages.list->len; i++) {
        const struct uvk_message *message = g_ptr_array_index(program->messages.list, i);
        struct uvk_position position = uvk_place_position(message->place);
        g_string_append_printf(out, "U%03u %u:%u %s", (unsigned)message->code, position.line,
                               position.column, message->text);
        g_string_append_printf(out, "%s%s", message->fix ? " | " : "",
                               message->fix ? message->fix : "");
        if (message->other.source != NULL) {
            position = uvk_place_position(message->other);
            g_string_append_printf(out, " (the other one: %u:%u)", position.line,
                                   position.column);
        }
        g_string_append_c(out, '\n');
    }
    return g_string_free(out, FALSE);
}

static char *folder;

static int remove_one(const char *path, const struct stat *info, int type, struct FTW *walk)
{
    (void)info;
    (void)type;
    (void)walk;
    return remove(path);
}

static void remove_folder(void)
{
    (void)nftw(folder, remove_one, 8, FTW_DEPTH | FTW_PHYS);
    g_free(folder);
}

const char *scratch_folder(void)
{
    if (folder == NULL) {
        folder = g_dir_make_tmp("uvrek-test-XXXXXX", NULL);
        assert_non_null(folder);
        (void)atexit(remove_folder);
    }
    return folder;
}

char *scratch_file(const char *name, const char *contents)
{
    char *path = g_build_filename(scratch_folder(), name, NULL);

    if (contents != NULL) {
        assert_true(g_file_set_contents(path, contents, -1, NULL));
    }
    return path;
}

struct uvk_program *shipped(const char *name)
{
    char *path = g_strdup_printf(SOURCE_FOLDER "/boards/%s.uvk", name);
    struct uvk_program *program = uvk_program_load(path);

    assert_int_equal(program->messages.errors, 0);
    g_free(path);
    return program;
}

int command_line_set_up(void **state)
{
    char *self = g_file_read_link("/proc/self/exe", NULL);
    char *programs = g_path_get_dirname(self);
    char *path = g_strconcat(programs, ":", g_getenv("PATH"), NULL);
    char *cache = g_build_filename(scratch_folder(), "home", NULL);

    (void)state;
    g_setenv("PATH", path, TRUE);
    g_setenv("XDG_CACHE_HOME", cache, TRUE);
    g_setenv("SCRATCH", scratch_folder(), TRUE);
    g_free(self);
    g_free(programs);
    g_free(path);
    g_free(cache);
    return chdir(SOURCE_FOLDER);
}
