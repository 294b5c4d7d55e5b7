/* new.c - `uvrek new`: a folder with a board, a keymap, and what to do with them. */
#include "cli.h"

#include "uvrek/edit.h"
#include "uvrek/files.h"
#include "uvrek/firmware.h"
#include "uvrek/start.h"

#include <errno.h>
#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>

#define KEYMAP_FILE "keymap.uvk"

struct wishes {
    char *from, *keys, *chip;
    gboolean split, direct, list;
};

/* ---- the board ------------------------------------------------------------------------ */

/* The folder of the boards that ship; NULL: *ERROR. */
static char *boards_folder(GError **error)
{
    char *home = uvk_source_folder(error);
    char *folder = home != NULL ? g_build_filename(home, "boards", NULL) : NULL;

    g_free(home);
    return folder;
}

static gint by_name(gconstpointer a, gconstpointer b)
{
    return strcmp(*(char *const *)a, *(char *const *)b);
}

static void print_boards(FILE *out)
{
    char *all;
    char *folder = boards_folder(NULL);
    GDir *files = folder != NULL ? g_dir_open(folder, 0, NULL) : NULL;
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    const char *name;

    while (files != NULL && (name = g_dir_read_name(files)) != NULL) {
        char *path = g_build_filename(folder, name, NULL);
        struct uvk_program *program =
            g_str_has_suffix(name, ".uvk") ? uvk_program_load(path) : NULL;
        if (program != NULL && program->keymap == NULL && program->board != NULL) {
            g_ptr_array_add(names, g_strdup_printf("%s (%u keys)", program->board->name,
                                                   program->board->key_count));
        }
        uvk_program_free(program);
        g_free(path);
    }
    g_ptr_array_sort(names, by_name);
    g_ptr_array_add(names, NULL);
    all = g_strjoinv(", ", (char **)names->pdata);
    fprintf(out, "boards that ship: %s\n", all);
    g_free(all);
    g_ptr_array_unref(names);
    g_clear_pointer(&files, g_dir_close);
    g_free(folder);
}

/* The file of a board: a path, or the name of one that ships. */
static char *board_path(const char *from)
{
    char *folder;
    char *file;
    char *path;

    if (g_file_test(from, G_FILE_TEST_IS_REGULAR)) {
        return g_strdup(from);
    }
    folder = boards_folder(NULL);
    file = g_strconcat(from, ".uvk", NULL);
    path = folder != NULL ? g_build_filename(folder, file, NULL) : NULL;
    g_free(folder);
    g_free(file);
    if (path != NULL && strchr(from, '/') == NULL &&
        g_file_test(path, G_FILE_TEST_IS_REGULAR)) {
        return path;
    }
    complain("no board '%s', and no such file", from);
    print_boards(stderr);
    g_free(path);
    return NULL;
}

/* The text of a board that is there. NULL: *STATUS. */
static char *copied_board(const char *from, int *status)
{
    char *path = board_path(from);
    struct uvk_program *program = NULL;
    char *text = NULL;

    *status = STATUS_NOT_DONE;
    if (path != NULL) {
        program = load_program(path, false, status);
    }
    if (program != NULL && (program->keymap != NULL || program->sources->len > 1)) {
        complain("%s is more than a board: name the file of the board alone", path);
        *status = STATUS_NOT_DONE;
    } else if (program != NULL) {
        const struct uvk_source *source = g_ptr_array_index(program->sources, 0);
        text = g_strdup(source->text);
    }
    uvk_program_free(program);
    g_free(path);
    return text;
}

/* "4x6" */
static bool read_size(const char *text, unsigned *rows, unsigned *columns)
{
    char *end;
    guint64 first = g_ascii_strtoull(text, &end, 10);
    guint64 second =
        *end == 'x' && g_ascii_isdigit(end[1]) ? g_ascii_strtoull(end + 1, &end, 10) : 0;

    *rows = (unsigned)MIN(first, 1000);
    *columns = (unsigned)MIN(second, 1000);
    return g_ascii_isdigit(text[0]) && *end == '\0' && second > 0;
}

static const char *chip_name(size_t index, const void *data)
{
    return ((const struct uvk_chip *const *)data)[index]->name;
}

static const struct uvk_chip *find_chip(const char *name)
{
    size_t count;
    const struct uvk_chip *const *chips = uvk_chips(&count);
    const struct uvk_chip *chip = uvk_chip_named(name != NULL ? name : chips[0]->name);
    const char *near;

    if (chip == NULL) {
        near = uvk_nearest(name, count, chip_name, chips);
        complain("no chip '%s' is known%s%s%s", name, near != NULL ? "; did you mean '" : "",
                 near != NULL ? near : "", near != NULL ? "'?" : "");
    }
    return chip;
}

static char *blank_board(const struct wishes *wishes, const char *name, int *status)
{
    struct uvk_blank blank = {.name = name, .split = wishes->split, .direct = wishes->direct};
    GError *error = NULL;
    char *text = NULL;

    *status = STATUS_NOT_DONE;
    if (!read_size(wishes->keys, &blank.rows, &blank.columns)) {
        complain("--keys wants rows and columns, as in 4x6");
        return NULL;
    }
    blank.chip = find_chip(wishes->chip);
    if (blank.chip != NULL) {
        text = uvk_start_board(&blank, &error);
        *status = text != NULL ? STATUS_WELL : print_problem(error);
    }
    return text;
}

/* ---- the folder ------------------------------------------------------------------------ */

/* Files of a folder that is there only if all of them are. */
struct folder {
    const char *path;
    char *files[3], *texts[3];
};

static int write_folder(const struct folder *folder)
{
    GError *error = NULL;
    unsigned written = 0;
    bool good = g_mkdir(folder->path, 0777) == 0;

    if (!good) {
        complain("cannot make %s: %s", folder->path, g_strerror(errno));
        return STATUS_NOT_DONE;
    }
    while (good && written < G_N_ELEMENTS(folder->files)) {
        char *path = g_build_filename(folder->path, folder->files[written], NULL);
        good = uvk_file_write(path, folder->texts[written], strlen(folder->texts[written]),
                              &error);
        written += good;
        g_free(path);
    }
    if (good) {
        return STATUS_WELL;
    }
    while (written-- > 0) {
        char *path = g_build_filename(folder->path, folder->files[written], NULL);
        (void)g_unlink(path);
        g_free(path);
    }
    (void)g_rmdir(folder->path);
    return print_problem(error);
}

/* A first keymap for the board, lined up. */
static char *tidy_keymap(const struct uvk_board *board, const char *board_text,
                         const char *name, const char *board_file)
{
    char *text = uvk_start_keymap(board, name, board_file);
    char *rest = strchr(text, '\n'); /* behind `use`: the board's file is not there yet */
    char *whole = g_strconcat(board_text, "\n", rest, NULL);
    struct uvk_program *program = uvk_program_read(KEYMAP_FILE, whole, strlen(whole));
    size_t size;
    unsigned changed;
    char *tidy = program->messages.errors == 0 ? uvk_tidy(program, &size, &changed) : NULL;
    /* what stands before the layers has not moved */
    char *result = tidy != NULL ? g_strdup_printf("use \"%s\"%s", board_file,
                                                  tidy + strlen(board_text) + 1)
                                : g_strdup(text);

    uvk_program_free(program);
    g_free(text);
    g_free(whole);
    g_free(tidy);
    return result;
}

static int write_start(const char *path, const char *name, char *board_text)
{
    struct uvk_program *program = uvk_program_read("board.uvk", board_text, strlen(board_text));
    char *board_file = g_strconcat(program->board->name, ".uvk", NULL);
    struct folder folder = {path, {board_file, (char *)KEYMAP_FILE, (char *)"README.md"}, {0}};
    int status;

    if (strcmp(board_file, KEYMAP_FILE) == 0) {
        g_free(board_file);
        board_file = folder.files[0] = g_strdup("board.uvk");
    }
    folder.texts[0] = board_text;
    folder.texts[1] = tidy_keymap(program->board, board_text, name, board_file);
    folder.texts[2] = uvk_start_readme(program->board, name, board_file, KEYMAP_FILE);
    status = write_folder(&folder);
    if (status == STATUS_WELL) {
        printf("%s/%s: the board, %u keys on an %s\n%s/%s: a keymap for it, with plays\n"
               "%s/README.md: what to do with them\n\nnext: uvrek play %s/%s\n",
               path, board_file, program->board->key_count, program->board->chip->title, path,
               KEYMAP_FILE, path, path, KEYMAP_FILE);
    }
    g_free(folder.texts[1]);
    g_free(folder.texts[2]);
    g_free(board_file);
    uvk_program_free(program);
    return status;
}

static int new (const char *path, const struct wishes *wishes)
{
    char *base = g_path_get_basename(path);
    char *name = name_from(base);
    char *board;
    int status = STATUS_NOT_DONE;

    if (g_file_test(path, G_FILE_TEST_EXISTS)) {
        complain("%s is there already: choose another name", path);
        board = NULL;
    } else {
        board = wishes->from != NULL ? copied_board(wishes->from, &status)
                                     : blank_board(wishes, name, &status);
    }
    if (board != NULL) {
        status = write_start(path, name, board);
    }
    g_free(board);
    g_free(base);
    g_free(name);
    return status;
}

/* Which board is meant is said in one way. */
static bool wishes_fit(const struct wishes *wishes)
{
    if ((wishes->from == NULL) == (wishes->keys == NULL)) {
        fputs("uvrek: new wants either --from BOARD or --keys ROWSxCOLUMNS\n", stderr);
        print_boards(stderr);
        return false;
    }
    if (wishes->from != NULL && (wishes->chip != NULL || wishes->split || wishes->direct)) {
        fputs("uvrek: --chip, --split and --direct are for a blank board, with --keys\n",
              stderr);
        return false;
    }
    return true;
}

static struct wishes wishes;

static const GOptionEntry options[] = {
    {"from", 0, 0, G_OPTION_ARG_FILENAME, &wishes.from,
     "A board that ships, or a file with a board", "BOARD"},
    {"keys", 0, 0, G_OPTION_ARG_STRING, &wishes.keys,
     "A blank grid of keys; with --split of each half", "ROWSxCOLUMNS"},
    {"chip", 0, 0, G_OPTION_ARG_STRING, &wishes.chip,
     "The blank board's chip, usually atmega32u4", "CHIP"},
    {"split", 0, 0, G_OPTION_ARG_NONE, &wishes.split, "The blank board has two halves", NULL},
    {"direct", 0, 0, G_OPTION_ARG_NONE, &wishes.direct,
     "The blank board has a pin for each key", NULL},
    {"list", 0, 0, G_OPTION_ARG_NONE, &wishes.list, "Only list the boards that ship", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **folders)
{
    if (wishes.list) {
        print_boards(stdout);
        return STATUS_WELL;
    }
    return is_one(&command_new, count) && wishes_fit(&wishes) ? new (folders[0], &wishes)
                                                              : STATUS_NOT_DONE;
}

const struct command command_new = {"new",
                                    "DIR",
                                    "Start from a board that ships, or from a blank.",
                                    "uvrek new --keys 4x6 --chip rp2040 --split pier",
                                    options,
                                    ANY_WORDS,
                                    run};
