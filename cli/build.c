/* build.c - `uvrek build`: firmware, with what each part costs. */
#include "cli.h"

#include "uvrek/firmware.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>
#include <unistd.h>

static void print_parts(const struct uvk_firmware *firmware)
{
    printf("\n  %-24s %8s %8s\n", "part", "flash", "RAM");
    for (guint i = 0; i < firmware->parts->len; i++) {
        const struct uvk_part *part = &g_array_index(firmware->parts, struct uvk_part, i);
        printf("  %-24s %8s %8s\n", part->name, thousands(part->flash), thousands(part->ram));
    }
}

/* Bytes that are too many for the chip; 0: it fits. */
struct excess {
    size_t flash, ram;
};

static struct excess excess_of(const struct uvk_firmware *firmware)
{
    size_t ram = firmware->ram_used + firmware->stack;

    return (struct excess){
        firmware->size > firmware->flash_room ? firmware->size - firmware->flash_room : 0,
        ram > firmware->ram_room ? ram - firmware->ram_room : 0};
}

static void print_costs(const GArray *costs, struct excess excess)
{
    bool large = excess.flash + excess.ram > 0;
    bool any = false;

    if (costs->len == 0) {
        puts("\nThe keymap uses no feature that could be left out.");
        return;
    }
    printf("\n  %-44s %8s %8s\n", "what leaving out would save", "flash", "RAM");
    for (guint i = 0; i < costs->len; i++) {
        const struct uvk_cost *cost = &g_array_index(costs, struct uvk_cost, i);
        bool helps = large && cost->flash >= excess.flash && cost->ram >= excess.ram;
        printf("  %-44s %8s %8s%s\n", cost->feature, thousands(cost->flash),
               thousands(cost->ram), helps ? "   then it fits" : "");
        any |= helps;
    }
    if (large && !any) {
        puts("\nNo single one is enough; the keymap itself, or several of them, must shrink.");
    }
}

/* NULL: that they cannot be measured has been told. */
static GArray *measure_costs(struct uvk_program *program,
                             const struct uvk_build_options *options)
{
    GError *error = NULL;
    GArray *costs;

    if (isatty(STDERR_FILENO) != 0) {
        fputs("measuring what each feature costs; the first time it takes a while\n", stderr);
    }
    costs = uvk_build_costs(program, options, &error);
    if (costs == NULL) {
        (void)print_problem(error);
    }
    return costs;
}

/* Where the room goes of a firmware that does not fit. */
static void show_what_is_large(struct uvk_program *program,
                               const struct uvk_build_options *options)
{
    struct uvk_firmware *firmware = uvk_build_of_any_size(program, options, NULL);
    GArray *costs = firmware != NULL ? measure_costs(program, options) : NULL;

    if (costs != NULL) {
        print_parts(firmware);
        print_costs(costs, excess_of(firmware));
        g_array_free(costs, TRUE);
    }
    uvk_firmware_free(firmware);
}

/* Of each half in a line of their own, where the halves take different files. */
static void print_files(const struct uvk_board *board, const struct uvk_firmware *firmware)
{
    char *reason = uvk_files_reason(board);
    const char *half = NULL;

    putchar('\n');
    for (guint i = 0; i < firmware->files->len; i++) {
        const struct uvk_file *file = g_ptr_array_index(firmware->files, i);
        bool first = i == 0 || file->half != half;
        half = file->half;
        printf("%s%s%s%s %s", first && i > 0 ? "\n" : "", first ? "wrote" : ",",
               first && half != NULL ? " for " : "", first && half != NULL ? half : "",
               file->path);
    }
    putchar('\n');
    if (reason != NULL) {
        printf("%s\n", reason);
    }
    g_free(reason);
}

static void print_report(const struct uvk_program *program, const struct uvk_firmware *firmware,
                         double seconds)
{
    const struct uvk_chip *chip = program->board->chip;
    size_t ram = firmware->ram_used + firmware->stack;

    printf("%s for the %s, ", program->keymap->name, chip->title);
    if (firmware->compiled == 0 && !firmware->linked) {
        printf("nothing had changed (%.2f s)\n", seconds);
    } else {
        printf("%u file%s compiled (%.2f s)\n", firmware->compiled,
               firmware->compiled == 1 ? "" : "s", seconds);
    }
    printf("  flash %8s of %s bytes, %s", thousands(firmware->size),
           thousands(firmware->flash_room), share(firmware->size, firmware->flash_room));
    if (chip->bootloader > 0) {
        printf(" (%s more are the bootloader's)", thousands(chip->bootloader));
    }
    putchar('\n');
    printf("  RAM   %8s of %s bytes, %s (%s of it kept for the stack)\n", thousands(ram),
           thousands(firmware->ram_room), share(ram, firmware->ram_room),
           thousands(firmware->stack));
    print_parts(firmware);
    print_files(program->board, firmware);
}

/* COSTS: NULL if nobody asked for them. */
static void print_as_json(const struct uvk_program *program,
                          const struct uvk_firmware *firmware, const GArray *costs,
                          double seconds)
{
    json_t *json = json_object();
    json_t *parts = put_list(json, "parts");

    put_text(json, "keymap", program->keymap->name);
    put_text(json, "chip", program->board->chip->name);
    put_number(json, "flash", (json_int_t)firmware->size);
    put_number(json, "flash-room", (json_int_t)firmware->flash_room);
    put_number(json, "ram", (json_int_t)firmware->ram_used);
    put_number(json, "stack", (json_int_t)firmware->stack);
    put_number(json, "ram-room", (json_int_t)firmware->ram_room);
    put_number(json, "compiled", firmware->compiled);
    put_number(json, "milliseconds", (json_int_t)(seconds * 1000));
    for (guint i = 0; i < firmware->files->len; i++) {
        const struct uvk_file *file = g_ptr_array_index(firmware->files, i);
        put_text(file->half != NULL ? put_object(json, file->half) : json, file->form,
                 file->path);
    }
    for (guint i = 0; i < firmware->parts->len; i++) {
        const struct uvk_part *part = &g_array_index(firmware->parts, struct uvk_part, i);
        json_t *object = add_object(parts);
        put_text(object, "name", part->name);
        put_number(object, "flash", part->flash);
        put_number(object, "ram", part->ram);
    }
    if (costs != NULL) {
        json_t *list = put_list(json, "costs");
        for (guint i = 0; i < costs->len; i++) {
            const struct uvk_cost *cost = &g_array_index(costs, struct uvk_cost, i);
            json_t *object = add_object(list);
            put_text(object, "without", cost->feature);
            put_number(object, "flash", cost->flash);
            put_number(object, "ram", cost->ram);
        }
    }
    print_json(json);
}

struct wishes {
    gchar *folder; /* NULL: the current one */
    gboolean as_json, costs;
};

static int show(struct uvk_program *program, const struct uvk_firmware *firmware,
                const struct uvk_build_options *options, const struct wishes *wishes,
                double seconds)
{
    GArray *costs = wishes->costs ? measure_costs(program, options) : NULL;

    if (wishes->as_json) {
        print_as_json(program, firmware, costs, seconds);
    } else {
        print_report(program, firmware, seconds);
    }
    if (costs != NULL && !wishes->as_json) {
        print_costs(costs, (struct excess){0, 0});
    }
    if (costs != NULL) {
        g_array_free(costs, TRUE);
    }
    return wishes->costs && costs == NULL ? STATUS_NOT_DONE : STATUS_WELL;
}

static int show_failure(struct uvk_program *program, const struct uvk_build_options *options,
                        const struct wishes *wishes, GError *error)
{
    bool large = g_error_matches(error, UVK_PROBLEM, UVK_NOT_WELL);
    int status = print_problem(error);

    if (large && !wishes->as_json) {
        show_what_is_large(program, options);
    }
    return status;
}

/* Keymaps of one name in two folders give files of two names: the folder stands before the
 * keymap's name, unless it is called the same. */
static char *files_name(const char *path, const char *keymap)
{
    char *whole = g_canonicalize_filename(path, NULL);
    char *folder = g_path_get_dirname(whole);
    char *base = g_path_get_basename(folder);
    char *name = strcmp(base, keymap) == 0 || strcmp(base, "/") == 0
                     ? g_strdup(keymap)
                     : g_strconcat(base, "-", keymap, NULL);

    g_free(whole);
    g_free(folder);
    g_free(base);
    return name;
}

static int build(const char *path, const struct wishes *wishes)
{
    gint64 start = g_get_monotonic_time();
    GError *error = NULL;
    int status;
    struct uvk_program *program = load_program(path, true, &status);
    const char *folder = wishes->folder != NULL ? wishes->folder : ".";
    struct uvk_build_options options = {.folder = folder};
    struct uvk_firmware *firmware;
    char *name;

    if (program == NULL) {
        return status;
    }
    name = files_name(path, program->keymap->name);
    options.name = name;
    firmware = uvk_build(program, &options, &error);
    status = firmware != NULL ? show(program, firmware, &options, wishes,
                                     (double)(g_get_monotonic_time() - start) / G_USEC_PER_SEC)
                              : show_failure(program, &options, wishes, error);
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    g_free(name);
    return status;
}

static struct wishes wishes;

static const GOptionEntry options[] = {
    {"folder", 'o', 0, G_OPTION_ARG_FILENAME, &wishes.folder,
     "Where the files go, named after the keymap and its folder (default: the current folder)",
     "FOLDER"},
    {"costs", 0, 0, G_OPTION_ARG_NONE, &wishes.costs,
     "Measure what leaving each feature out would save", NULL},
    {"json", 0, 0, G_OPTION_ARG_NONE, &wishes.as_json, "Print JSON, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    (void)count;
    return build(files[0], &wishes);
}

const struct command command_build = {"build",
                                      "FILE",
                                      "Build the firmware of a keymap and show what it takes.",
                                      "uvrek build boards/subtitle-desk.uvk",
                                      options,
                                      1,
                                      run};
