/* build.c - `uvrek build`: firmware, with what each part costs. */
#include "cli.h"

#include "uvrek/firmware.h"

#include <errno.h>
#include <stdio.h>
#include <string.h>

/* A number with its thousands apart; a few at a time may be in use. */
static const char *thousands(size_t number)
{
    static char rooms[4][32];
    static unsigned room;
    char digits[24];
    char *out = rooms[room = (room + 1) % G_N_ELEMENTS(rooms)];
    int length = g_snprintf(digits, sizeof digits, "%zu", number);
    int at = 0;

    for (int i = 0; i < length; i++) {
        if (i > 0 && (length - i) % 3 == 0) {
            out[at++] = ',';
        }
        out[at++] = digits[i];
    }
    out[at] = '\0';
    return out;
}

static unsigned percent(size_t part, size_t whole)
{
    return whole > 0 ? (unsigned)(part * 100 / whole) : 0;
}

static void print_parts(const struct uvk_firmware *firmware)
{
    printf("\n  %-24s %8s %8s\n", "part", "flash", "RAM");
    for (guint i = 0; i < firmware->parts->len; i++) {
        const struct uvk_part *part = &g_array_index(firmware->parts, struct uvk_part, i);
        printf("  %-24s %8s %8s\n", part->name, thousands(part->flash), thousands(part->ram));
    }
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
    printf("  flash %8s of %s bytes, %u %% (%s more are the bootloader's)\n",
           thousands(firmware->size), thousands(firmware->flash_room),
           percent(firmware->size, firmware->flash_room), thousands(chip->bootloader));
    printf("  RAM   %8s of %s bytes, %u %% (%s of it kept for the stack)\n", thousands(ram),
           thousands(firmware->ram_room), percent(ram, firmware->ram_room),
           thousands(firmware->stack));
    print_parts(firmware);
    printf("\nwrote %s, %s, %s\n", firmware->hex_path, firmware->bin_path, firmware->elf_path);
}

static void print_as_json(const struct uvk_program *program,
                          const struct uvk_firmware *firmware, double seconds)
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
    put_text(json, "hex", firmware->hex_path);
    put_text(json, "bin", firmware->bin_path);
    put_text(json, "elf", firmware->elf_path);
    for (guint i = 0; i < firmware->parts->len; i++) {
        const struct uvk_part *part = &g_array_index(firmware->parts, struct uvk_part, i);
        json_t *object = add_object(parts);
        put_text(object, "name", part->name);
        put_number(object, "flash", part->flash);
        put_number(object, "ram", part->ram);
    }
    print_json(json);
}

static bool make_folder(const char *folder, GError **error)
{
    if (g_mkdir_with_parents(folder, 0777) == 0) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "cannot make the folder %s: %s", folder,
                g_strerror(errno));
    return false;
}

static int build(const char *path, const char *folder, bool as_json)
{
    gint64 start = g_get_monotonic_time();
    GError *error = NULL;
    int status;
    struct uvk_program *program = load_program(path, true, &status);
    struct uvk_build_options options = {folder, program != NULL ? program->keymap->name : NULL,
                                        NULL};
    struct uvk_firmware *firmware = NULL;
    double seconds;

    if (program != NULL && make_folder(folder, &error)) {
        firmware = uvk_build(program, &options, &error);
    }
    seconds = (double)(g_get_monotonic_time() - start) / G_USEC_PER_SEC;

    if (firmware != NULL && as_json) {
        print_as_json(program, firmware, seconds);
    } else if (firmware != NULL) {
        print_report(program, firmware, seconds);
    } else if (error != NULL) {
        status = print_problem(error);
    }
    uvk_firmware_free(firmware);
    uvk_program_free(program);
    return status;
}

static int run(int argc, char **argv)
{
    gboolean as_json = FALSE;
    gchar *folder = NULL;
    const GOptionEntry entries[] = {
        {"folder", 'o', 0, G_OPTION_ARG_FILENAME, &folder,
         "Where the files go, named after the keymap (default: the current folder)", "FOLDER"},
        {"json", 0, 0, G_OPTION_ARG_NONE, &as_json, "Print JSON, for other programs", NULL},
        G_OPTION_ENTRY_NULL};
    const char *file;
    int status;

    if (!parse_options(&command_build, entries, &argc, &argv, &status)) {
        return status;
    }
    file = only_file(&command_build, argc, argv);
    status =
        file != NULL ? build(file, folder != NULL ? folder : ".", as_json) : STATUS_NOT_DONE;
    g_free(folder);
    return status;
}

const struct command command_build = {"build", "FILE",
                                      "Build the firmware of a keymap and show what it takes.",
                                      "uvrek build boards/subtitle-desk.uvk", run};
