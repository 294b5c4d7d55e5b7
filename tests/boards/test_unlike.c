/* Boards of all kinds, beside this file: every picture, table, export, explanation and build
 * works for each of them. What can be judged by rule is: nothing overlaps, nothing is cut,
 * every key is there. */
#include "support.h"

#include "uvrek/edit.h"
#include "uvrek/exchange.h"
#include "uvrek/explain.h"
#include "uvrek/sheet.h"

#include <string.h>

#define FOLDER SOURCE_FOLDER "/tests/boards"

/* Do TRY with each program of the folder. */
static void with_each(void (*try)(struct uvk_program *program, const char *name))
{
    GDir *folder = g_dir_open(FOLDER, 0, NULL);
    const char *name;
    unsigned boards = 0;

    while ((name = g_dir_read_name(folder)) != NULL) {
        if (g_str_has_suffix(name, ".uvk")) {
            char *path = g_build_filename(FOLDER, name, NULL);
            struct uvk_program *program = uvk_program_load(path);
            assert_int_equal(program->messages.errors, 0);
            try(program, name);
            uvk_program_free(program);
            g_free(path);
            boards++;
        }
    }
    g_dir_close(folder);
    assert_true(boards >= 12);
}

/* ---- words ------------------------------------------------------------------------------- */

static void say_each_cell(struct uvk_program *program, const char *name)
{
    for (unsigned layer = 0; layer < program->keymap->layer_count; layer++) {
        for (unsigned cell = 0; cell < uvk_board_cells(program->board); cell++) {
            char *sentence = uvk_cell_sentence(program, layer, cell);
            char *place = uvk_cell_place(program->board, cell);
            if (strlen(sentence) < 6) {
                fail_msg("%s, %s: %s", name, place, sentence);
            }
            g_free(sentence);
            g_free(place);
        }
    }
}

static void each_cell_is_explained(void **state)
{
    (void)state;
    with_each(say_each_cell);
}

static void assert_tidy(struct uvk_program *program, const char *name)
{
    unsigned changed;
    size_t size;
    char *text = uvk_tidy(program, &size, &changed);

    if (changed != 0) {
        fail_msg("%s is not tidy", name);
    }
    g_free(text);
}

static void all_are_tidy(void **state)
{
    (void)state;
    with_each(assert_tidy);
}

/* ---- there and back ---------------------------------------------------------------------- */

static void export_and_import(struct uvk_program *program, const char *name)
{
    GPtrArray *problems = g_ptr_array_new_with_free_func(g_free);
    GError *error = NULL;
    char *json = uvk_exchange_write(program, &error);
    char *text = json != NULL ? uvk_exchange_read(json, strlen(json), problems) : NULL;
    struct uvk_program *again;
    uint16_t sizes[2];
    uint8_t *images[2];

    if (text == NULL) {
        fail_msg("%s: %s", name, error != NULL ? error->message : "not read");
    }
    again = good_program(text);
    images[0] = uvk_lower(program, &sizes[0]);
    images[1] = uvk_lower(again, &sizes[1]);
    assert_int_equal(sizes[0], sizes[1]);
    assert_memory_equal(images[0], images[1], sizes[0]);
    assert_int_equal(program->board->key_count, again->board->key_count);
    g_free(images[0]);
    g_free(images[1]);
    uvk_program_free(again);
    g_free(text);
    g_free(json);
    g_ptr_array_free(problems, TRUE);
}

static void all_come_back_from_json(void **state)
{
    (void)state;
    with_each(export_and_import);
}

/* ---- the terminal ------------------------------------------------------------------------ */

static void assert_fits(const char *name, const char *text, glong columns)
{
    char **lines = g_strsplit(text, "\n", -1);

    for (char **line = lines; *line != NULL; line++) {
        if (g_utf8_strlen(*line, -1) > columns) {
            fail_msg("%s: more than %ld columns: %s", name, columns, *line);
        }
    }
    g_strfreev(lines);
}

static unsigned count(const char *text, const char *part)
{
    unsigned found = 0;

    for (const char *at = text; (at = strstr(at, part)) != NULL; at++) {
        found++;
    }
    return found;
}

/* Every address is there whole, at least as often as there are halves that have it. */
static void assert_addresses(const struct uvk_board *board, const char *name, const char *text)
{
    for (unsigned key = 0; key < board->key_count; key++) {
        char *place = uvk_cell_place(board, key);
        const char *dot = strchr(place, '.');
        if (count(text, dot != NULL ? dot + 1 : place) < board->half_count) {
            fail_msg("%s: %s is missing in\n%s", name, place, text);
        }
        g_free(place);
    }
}

/* No line is too long; of wires and pairs nothing is cut, and every address is there. */
static void draw_for_terminals(struct uvk_program *program, const char *name)
{
    static const unsigned widths[] = {80, 100, 132, 200};
    static const enum uvk_sheet_kind kinds[] = {UVK_SHEET_LAYERS, UVK_SHEET_WIRING,
                                                UVK_SHEET_CHOICES, UVK_SHEET_PAIRS};

    for (size_t i = 0; i < G_N_ELEMENTS(widths); i++) {
        for (size_t kind = 0; kind < G_N_ELEMENTS(kinds); kind++) {
            struct uvk_sheet sheet = {.kind = kinds[kind], .layer = -1};
            char *text = uvk_sheet_text(program, &sheet, widths[i]);
            assert_fits(name, text, widths[i]);
            if (kinds[kind] != UVK_SHEET_LAYERS && strstr(text, "…") != NULL) {
                fail_msg("%s: something is cut in\n%s", name, text);
            }
            if (kinds[kind] == UVK_SHEET_PAIRS ||
                (kinds[kind] == UVK_SHEET_WIRING && widths[i] == 200)) {
                assert_addresses(program->board, name, text);
            }
            g_free(text);
        }
    }
}

static void terminals_show_all(void **state)
{
    (void)state;
    with_each(draw_for_terminals);
}

/* ---- pictures ---------------------------------------------------------------------------- */

/* Where a text stands on the page; as wide as it is at the least. */
struct words {
    double left, top, right, bottom;
    char *text;
};

static double number_of(const char *tag, const char *name)
{
    char *wanted = g_strdup_printf(" %s=\"", name);
    const char *at = strstr(tag, wanted);
    double number = at != NULL ? g_ascii_strtod(at + strlen(wanted), NULL) : 0;

    g_free(wanted);
    return number;
}

static void free_words(gpointer data)
{
    g_free(((struct words *)data)->text);
}

/* All texts that are not turned. */
static GArray *texts_of(const char *svg)
{
    GArray *texts = g_array_new(FALSE, FALSE, sizeof(struct words));
    char **lines = g_strsplit(svg, "\n", -1);

    g_array_set_clear_func(texts, free_words);
    for (char **line = lines; *line != NULL; line++) {
        if (g_str_has_prefix(*line, "<text")) {
            const char *start = strchr(*line, '>') + 1;
            const char *end = strstr(start, "</text>");
            struct words words = {.text = g_strndup(start, (gsize)(end - start))};
            double size = number_of(*line, "font-size");
            double width = 0.45 * size * (double)g_utf8_strlen(words.text, -1);
            double x = number_of(*line, "x");
            words.left = strstr(*line, "\"middle\"") != NULL ? x - width / 2
                         : strstr(*line, "\"end\"") != NULL  ? x - width
                                                             : x;
            words.right = words.left + width;
            words.bottom = number_of(*line, "y");
            words.top = words.bottom - 0.7 * size;
            g_array_append_val(texts, words);
        }
    }
    g_strfreev(lines);
    return texts;
}

static bool overlap(const struct words *a, const struct words *b)
{
    return MIN(a->right, b->right) - MAX(a->left, b->left) > 1 &&
           MIN(a->bottom, b->bottom) - MAX(a->top, b->top) > 1;
}

static void assert_apart(const char *name, const char *svg)
{
    GArray *texts = texts_of(svg);
    double width = number_of(svg, "width");
    double height = number_of(svg, "height");

    for (guint i = 0; i < texts->len; i++) {
        const struct words *one = &g_array_index(texts, struct words, i);
        if (one->left < 0 || one->top < 0 || one->right > width || one->bottom > height) {
            fail_msg("%s: \"%s\" is cut by the edge", name, one->text);
        }
        for (guint j = 0; j < i; j++) {
            const struct words *two = &g_array_index(texts, struct words, j);
            if (overlap(one, two)) {
                fail_msg("%s: \"%s\" and \"%s\" lie over one another", name, one->text,
                         two->text);
            }
        }
    }
    g_array_free(texts, TRUE);
}

static void draw_to_files(struct uvk_program *program, const char *name)
{
    static const enum uvk_sheet_kind kinds[] = {UVK_SHEET_LAYERS, UVK_SHEET_WIRING,
                                                UVK_SHEET_CHOICES};
    static const char *const suffixes[] = {"svg", "png", "pdf"};

    for (size_t kind = 0; kind < G_N_ELEMENTS(kinds); kind++) {
        struct uvk_sheet sheet = {.kind = kinds[kind], .layer = -1};
        for (size_t i = 0; i < G_N_ELEMENTS(suffixes); i++) {
            char *path = g_strdup_printf("%s/unlike.%s", scratch_folder(), suffixes[i]);
            char *svg = NULL;
            assert_true(uvk_sheet_draw(program, &sheet, path, NULL));
            assert_true(g_file_get_contents(path, &svg, NULL, NULL));
            if (i == 0) {
                unsigned caps = count(svg, " rx=") + count(svg, "<circle");
                assert_true(caps >= program->board->key_count);
                assert_apart(name, svg);
            }
            g_free(svg);
            g_free(path);
        }
    }
}

static void pictures_are_whole(void **state)
{
    (void)state;
    with_each(draw_to_files);
}

/* ---- plays and firmware ------------------------------------------------------------------ */

static void play_all(struct uvk_program *program, const char *name)
{
    uint16_t size;
    uint8_t *image = uvk_lower(program, &size);

    for (const struct uvk_play *play = program->plays; play != NULL; play = play->next) {
        struct uvk_rig_options options = {.seed = 5, .bounce = UVK_BOUNCE_DEFAULT};
        struct uvk_outcome outcome = {.play = play};
        struct uvk_rig *rig = uvk_rig_native(program, image, size, &options, NULL);
        if (uvk_play_run(program, rig, play, &outcome, NULL) != 1) {
            fail_msg("%s, %s: expected %s, got %s", name, play->name, outcome.expected,
                     outcome.got);
        }
        uvk_outcome_clear(&outcome);
        uvk_rig_free(rig);
    }
    g_free(image);
}

static void plays_of_all_pass(void **state)
{
    (void)state;
    with_each(play_all);
}

static void build(struct uvk_program *program, const char *name)
{
    char *cache = g_build_filename(scratch_folder(), "cache", NULL);
    struct uvk_build_options options = {.cache = cache};
    GError *error = NULL;
    struct uvk_firmware *firmware = uvk_build(program, &options, &error);

    if (firmware == NULL) {
        fail_msg("%s: %s", name, error->message);
    }
    uvk_firmware_free(firmware);
    g_clear_error(&error);
    g_free(cache);
}

static void firmware_is_built(void **state)
{
    (void)state;
    with_each(build);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_cell_is_explained),  cmocka_unit_test(all_are_tidy),
        cmocka_unit_test(all_come_back_from_json), cmocka_unit_test(terminals_show_all),
        cmocka_unit_test(pictures_are_whole),      cmocka_unit_test(plays_of_all_pass),
        cmocka_unit_test(firmware_is_built),
    };
    return cmocka_run_group_tests_name("unlike", tests, NULL, NULL);
}
