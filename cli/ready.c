/* ready.c - `uvrek ready`: has this machine what building and flashing need, and what is
 * plugged in? */
#include "live.h"

#include "uvrek/firmware.h"
#include "uvrek/flash.h"

#include <stdio.h>

static char *missing_packages(const GArray *needs)
{
    GString *packages = g_string_new(NULL);

    for (guint i = 0; i < needs->len; i++) {
        const struct uvk_need *need = &g_array_index(needs, struct uvk_need, i);
        if (!need->there) {
            g_string_append_printf(packages, " %s", need->package);
        }
    }
    if (packages->len == 0) {
        g_string_free(packages, TRUE);
        return NULL;
    }
    g_string_prepend(packages, "apt-get install");
    return g_string_free(packages, FALSE);
}

/* ---- what there is, and what stands in the way ------------------------------------------ */

/* Libraries that this program can be built without, and what is not to be had then. */
static const struct library {
    const char *name, *what;
    bool (*there)(void);
} libraries[] = {
    {"libserialport", "reaches serial bootloaders", uvk_has_serial},
    {"libusb", "reaches DFU bootloaders, and sees keyboards come", uvk_has_usb},
};

/* What was found out; of obstacles, NULL is none. */
struct found {
    GArray *needs;
    char *packages; /* the command that installs what is missing */
    GError *flash, *permission;
    GPtrArray *sightings; /* NULL: no board is spoken of */
};

static struct found find_out(const struct uvk_board *board, const char *usbip)
{
    struct found found = {.needs = uvk_needs(board != NULL ? board->chip : NULL)};
    struct uvk_flash_options options = {.usbip = usbip};

    found.packages = missing_packages(found.needs);
    if (board == NULL || !uvk_can_flash(board->boot, &found.flash)) {
        return found;
    }
    (void)uvk_may_flash(board->boot, &found.permission);
    options.vendor = (uint16_t)board->usb_vendor;
    options.product = (uint16_t)board->usb_product;
    found.sightings = uvk_sightings(board->chip, board->boot, &options);
    return found;
}

static bool can_open_all(const struct found *found)
{
    bool good = true;

    for (guint i = 0; found->sightings != NULL && i < found->sightings->len; i++) {
        good = good && ((const struct uvk_sighting *)found->sightings->pdata[i])->mend == NULL;
    }
    return good;
}

static bool is_ready(const struct found *found)
{
    return found->packages == NULL && found->flash == NULL && found->permission == NULL &&
           can_open_all(found);
}

static void clear(struct found *found)
{
    g_free(found->packages);
    g_clear_error(&found->flash);
    g_clear_error(&found->permission);
    g_clear_pointer(&found->sightings, g_ptr_array_unref);
    uvk_needs_free(found->needs);
}

/* ---- in words
 * --------------------------------------------------------------------------------- */

static void print_need(bool there, const char *name, const char *version, const char *what)
{
    printf("%-8s %-18s %-14s %s\n", there ? "there" : "MISSING", name,
           version != NULL ? version : "", what);
}

static void print_needs(const GArray *needs)
{
    for (guint i = 0; i < needs->len; i++) {
        const struct uvk_need *need = &g_array_index(needs, struct uvk_need, i);
        print_need(need->there, need->name, need->version, need->what);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(libraries); i++) {
        print_need(libraries[i].there(), libraries[i].name, NULL, libraries[i].what);
    }
    putchar('\n');
}

static void print_text(const char *text)
{
    char *visible = uvk_visible_text(text);

    fputs(visible, stdout);
    g_free(visible);
}

/* What a keyboard in two halves says of them. */
static void print_halves(const struct uvk_halves_told *told)
{
    const char *trouble = uvk_half_trouble_text(told->trouble);
    unsigned frames = told->good + told->broken;

    if (trouble != NULL) {
        printf("  but %s\n", trouble);
        return;
    }
    printf("  both halves answer, with the same firmware; of %s frames between them, %s were "
           "broken\n",
           thousands(frames), thousands(told->broken));
    if (told->erased > 0) {
        printf(
            "  half of its memory at a time has been erased, %s times; 100,000 are what it is "
            "made for\n",
            thousands(told->erased));
    }
}

static void print_sightings(const GPtrArray *sightings, const char *title)
{
    for (guint i = 0; i < sightings->len; i++) {
        const struct uvk_sighting *sighting = sightings->pdata[i];
        fputs("plugged in: ", stdout);
        print_text(sighting->what);
        putchar('\n');
        if (sighting->halves) {
            print_halves(&sighting->told);
        }
        if (sighting->mend != NULL) {
            fputs("  but ", stdout);
            print_text(sighting->mend);
            putchar('\n');
        }
    }
    if (sightings->len == 0) {
        printf("plugged in: nothing of %s, neither the keyboard nor its bootloader\n", title);
    }
    putchar('\n');
}

static void print_obstacle(const char *lead, const GError *error)
{
    if (error != NULL) {
        printf("%s: %s.\n", lead, error->message);
    }
}

static void print_answer(const struct found *found)
{
    if (found->packages != NULL) {
        printf("Not ready. As root:\n  %s\n", found->packages);
    }
    print_obstacle("Cannot be flashed", found->flash);
    print_obstacle("Cannot be flashed", found->permission);
    if (!can_open_all(found)) {
        puts("Cannot be flashed before this user may open it.");
    }
    if (is_ready(found)) {
        puts("Ready.");
    }
}

/* ---- as JSON
 * ------------------------------------------------------------------------------------ */

static void put_need(json_t *list, bool there, const char *name, const char *version,
                     const char *package, const char *what)
{
    json_t *object = add_object(list);

    put_text(object, "name", name);
    put_flag(object, "there", there);
    put_text(object, "version", version);
    put_text(object, "package", package);
    put_text(object, "what", what);
}

static void put_sightings(json_t *json, const GPtrArray *sightings)
{
    json_t *list = put_list(json, "plugged-in");

    for (guint i = 0; sightings != NULL && i < sightings->len; i++) {
        const struct uvk_sighting *sighting = sightings->pdata[i];
        json_t *object = add_object(list);
        put_text(object, "what", sighting->what);
        put_flag(object, "running", sighting->running);
        if (sighting->halves) {
            put_text(object, "halves", uvk_half_trouble_text(sighting->told.trouble));
            put_number(object, "frames", sighting->told.good);
            put_number(object, "broken-frames", sighting->told.broken);
            put_number(object, "banks-erased", sighting->told.erased);
        }
        put_text(object, "mend", sighting->mend);
    }
}

static const GError *reason_of(const struct found *found)
{
    return found->flash != NULL ? found->flash : found->permission;
}

static void print_as_json(const struct found *found, const char *keymap, const char *usbip)
{
    const GError *reason = reason_of(found);
    json_t *json = json_object();
    json_t *list = put_list(json, "needs");

    put_flag(json, "ready", is_ready(found));
    put_text(json, "command", found->packages);
    put_text(json, "reason", reason != NULL ? reason->message : NULL);
    for (guint i = 0; i < found->needs->len; i++) {
        const struct uvk_need *need = &g_array_index(found->needs, struct uvk_need, i);
        put_need(list, need->there, need->name, need->version, need->package, need->what);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(libraries); i++) {
        put_need(list, libraries[i].there(), libraries[i].name, NULL, NULL, libraries[i].what);
    }
    put_sightings(json, found->sightings);
    if (keymap != NULL) {
        print_live(keymap, usbip, json);
    }
    print_json(json);
}

/* ---- the command
 * ---------------------------------------------------------------------------------- */

/* A server that was named has to be there. */
static bool can_reach(const char *usbip, GError **error)
{
    GPtrArray *devices = usbip != NULL ? uvk_usb_devices(usbip, error) : NULL;
    bool good = usbip == NULL || devices != NULL;

    g_clear_pointer(&devices, g_ptr_array_unref);
    return good;
}

static int ready(const char *path, const char *usbip, bool as_json)
{
    GError *error = NULL;
    struct uvk_program *program = NULL;
    const char *keymap;
    struct found found;
    int status = STATUS_WELL;

    if (!can_reach(usbip, &error)) {
        return print_problem(error);
    }
    if (path != NULL) {
        program = load_program(path, false, &status);
        if (program == NULL) {
            return status;
        }
    }
    found = find_out(program != NULL ? program->board : NULL, usbip);
    keymap = program != NULL && program->keymap != NULL ? path : NULL;
    if (as_json) {
        print_as_json(&found, keymap, usbip);
    } else {
        print_needs(found.needs);
        if (found.sightings != NULL) {
            print_sightings(found.sightings, program->board->title);
        }
        if (keymap != NULL) {
            print_live(keymap, usbip, NULL);
        }
        print_answer(&found);
    }
    status = is_ready(&found) ? status : STATUS_NOT_WELL;
    clear(&found);
    uvk_program_free(program);
    return status;
}

static gboolean as_json;
static char *usbip;

static const GOptionEntry options[] = {
    {"usbip", 0, 0, G_OPTION_ARG_STRING, &usbip,
     "Look for USB devices at this USB/IP server, such as the bench", "[ADDRESS:]PORT"},
    {"json", 0, 0, G_OPTION_ARG_NONE, &as_json, "Print JSON, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    if (count > 1) {
        complain("ready needs at most one FILE");
        return STATUS_NOT_DONE;
    }
    return ready(count == 1 ? files[0] : NULL, usbip, as_json);
}

const struct command command_ready = {"ready",
                                      "[FILE]",
                                      "Say whether firmware can be built and flashed here, "
                                      "what is missing, and what is plugged in.",
                                      "uvrek ready boards/subtitle-desk.uvk",
                                      options,
                                      ANY_WORDS,
                                      run};
