/* ready.c - `uvrek ready`: has this machine what building and flashing need? */
#include "cli.h"

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

/* What stands in the way, each NULL if nothing does. */
struct obstacles {
    char *packages; /* the command that installs what is missing */
    GError *build, *flash;
};

static struct obstacles find_obstacles(const struct uvk_board *board, const GArray *needs)
{
    struct obstacles obstacles = {missing_packages(needs), NULL, NULL};

    if (board != NULL && uvk_can_build(board, &obstacles.build)) {
        (void)uvk_can_flash(board->boot, &obstacles.flash);
    }
    return obstacles;
}

static void print_needs(const GArray *needs)
{
    for (guint i = 0; i < needs->len; i++) {
        const struct uvk_need *need = &g_array_index(needs, struct uvk_need, i);
        printf("%-8s %-12s %-14s %s\n", need->there ? "there" : "MISSING", need->name,
               need->version != NULL ? need->version : "", need->what);
    }
    putchar('\n');
}

static void print_answer(const struct obstacles *obstacles)
{
    if (obstacles->packages != NULL) {
        printf("Not ready. As root:\n  %s\n", obstacles->packages);
    }
    if (obstacles->build != NULL) {
        printf("Cannot be built: %s.\n", obstacles->build->message);
    } else if (obstacles->flash != NULL) {
        printf("Cannot be flashed: %s.\n", obstacles->flash->message);
    } else if (obstacles->packages == NULL) {
        puts("Ready.");
    }
}

static void print_as_json(const GArray *needs, const struct obstacles *obstacles)
{
    const GError *reason = obstacles->build != NULL ? obstacles->build : obstacles->flash;
    json_t *json = json_object();
    json_t *list = put_list(json, "needs");

    put_flag(json, "ready", obstacles->packages == NULL && reason == NULL);
    put_text(json, "command", obstacles->packages);
    put_text(json, "reason", reason != NULL ? reason->message : NULL);
    for (guint i = 0; i < needs->len; i++) {
        const struct uvk_need *need = &g_array_index(needs, struct uvk_need, i);
        json_t *object = add_object(list);
        put_text(object, "name", need->name);
        put_flag(object, "there", need->there);
        put_text(object, "version", need->version);
        put_text(object, "package", need->package);
        put_text(object, "what", need->what);
    }
    print_json(json);
}

static int ready(const char *path, bool as_json)
{
    struct uvk_program *program = NULL;
    struct obstacles obstacles;
    GArray *needs;
    int status = STATUS_WELL;

    if (path != NULL) {
        program = load_program(path, false, &status);
        if (program == NULL) {
            return status;
        }
    }
    needs = uvk_needs(program != NULL ? program->board->chip : NULL);
    obstacles = find_obstacles(program != NULL ? program->board : NULL, needs);
    if (as_json) {
        print_as_json(needs, &obstacles);
    } else {
        print_needs(needs);
        print_answer(&obstacles);
    }
    if (obstacles.packages != NULL || obstacles.build != NULL || obstacles.flash != NULL) {
        status = STATUS_NOT_WELL;
    }
    g_free(obstacles.packages);
    g_clear_error(&obstacles.build);
    g_clear_error(&obstacles.flash);
    uvk_needs_free(needs);
    uvk_program_free(program);
    return status;
}

static gboolean as_json;

static const GOptionEntry options[] = {
    {"json", 0, 0, G_OPTION_ARG_NONE, &as_json, "Print JSON, for other programs", NULL},
    G_OPTION_ENTRY_NULL};

static int run(int count, char **files)
{
    if (count > 1) {
        complain("ready needs at most one FILE");
        return STATUS_NOT_DONE;
    }
    return ready(count == 1 ? files[0] : NULL, as_json);
}

const struct command command_ready = {
    "ready",
    "[FILE]",
    "Say whether firmware can be built here, and what is missing.",
    "uvrek ready boards/subtitle-desk.uvk",
    options,
    ANY_WORDS,
    run};
