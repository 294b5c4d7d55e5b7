/* live.c - `uvrek live`: the running keyboard, read and changed. */
#include "live.h"

#include <stdio.h>
#include <string.h>

static struct live_wishes wishes;

static const GOptionEntry options[] = {
    {"at", 0, 0, G_OPTION_ARG_STRING, &wishes.at,
     "Which keyboard: its number as `uvrek live` lists it, its place on the USB, or PORT or "
     "ADDRESS:PORT of a bench",
     "WHICH"},
    {"picture", 0, 0, G_OPTION_ARG_FILENAME, &wishes.picture,
     "watch: draw the last seconds of it at the end, as .svg, .png or .pdf", "PICTURE"},
    {"pauses", 0, 0, G_OPTION_ARG_NONE, &wishes.pauses,
     "macro: with the pauses between the keys", NULL},
    {"json", 0, 0, G_OPTION_ARG_NONE, &wishes.as_json,
     "Print the result as JSON; of watch an event a line, for `play --replay`", NULL},
    G_OPTION_ENTRY_NULL};

struct subcommand {
    const char *name;
    int least, most; /* words behind it */
    int (*run)(const struct live_wishes *wishes, int count, char **words);
    const char *usage, *what;
};

#define MANY 1000

static const struct subcommand subcommands[] = {
    {"list", 0, 1, live_list, "list [FILE]",
     "keyboards here, what they run, and is it what FILE says"},
    {"open", 0, 1, live_open_door, "open [FILE]", "open the door: the keyboard asks for keys"},
    {"close", 0, 1, live_close_door, "close [FILE]", "close it"},
    {"diff", 1, 1, live_diff, "diff FILE", "what FILE says and the keyboard does not do"},
    {"push", 1, 1, live_push, "push FILE", "make the keyboard do what FILE says"},
    {"pull", 1, 1, live_pull, "pull FILE", "make FILE say what the keyboard does"},
    {"set", 2, MANY, live_set, "set FILE KEY [on LAYER] CELL",
     "change a cell, in the text and the keyboard"},
    {"set", 2, MANY, live_set, "set FILE 'STATEMENT'",
     "change a feel, a macro, a combo, a setting"},
    {"swap", 3, 3, live_swap, "swap FILE KEY KEY",
     "what two keys do changes places, on all layers"},
    {"light", 2, 3, live_light, "light FILE LAMP [COLOUR]",
     "light one lamp alone for a while, to look at it"},
    {"undo", 1, 1, live_undo, "undo FILE", "take the last `set` back, in both"},
    {"macro", 2, 2, live_macro, "macro FILE NAME",
     "what is typed on the keyboard becomes a macro"},
    {"edit", 1, 1, live_edit, "edit FILE",
     "all of that on a screen: keys are chosen by pressing"},
    {"watch", 1, 1, live_watch, "watch FILE", "what is pressed, decided, and why"},
    {"forget", 0, 1, live_forget, "forget [FILE]", "back to what was built in"},
    {"restart", 0, 1, live_restart, "restart [FILE]", "start the keyboard again"},
    {"bootloader", 0, 1, live_bootloader, "bootloader [FILE]", "start its bootloader"},
};

static const char *subcommand_name(size_t index, const void *data)
{
    (void)data;
    return subcommands[index].name;
}

static void print_usages(const char *name, FILE *out)
{
    for (size_t i = 0; i < G_N_ELEMENTS(subcommands); i++) {
        if (name == NULL || strcmp(subcommands[i].name, name) == 0) {
            fprintf(out, "  uvrek live %-30s %s\n", subcommands[i].usage, subcommands[i].what);
        }
    }
}

/* Options that are for one of them only. */
static bool options_fit(const struct subcommand *sub)
{
    const char *wrong =
        wishes.picture != NULL && sub->run != live_watch ? "--picture is for `live watch`"
        : wishes.pauses && sub->run != live_macro        ? "--pauses is for `live macro`"
                                                         : NULL;

    if (wrong != NULL) {
        complain("%s", wrong);
    }
    return wrong == NULL;
}

static int run(int count, char **words)
{
    const char *name = count > 0 ? words[0] : "list";

    for (size_t i = 0; i < G_N_ELEMENTS(subcommands); i++) {
        const struct subcommand *sub = &subcommands[i];
        int given = MAX(count - 1, 0);
        if (strcmp(sub->name, name) != 0) {
            continue;
        }
        if (!options_fit(sub)) {
            return STATUS_NOT_DONE;
        }
        if (given >= sub->least && given <= sub->most) {
            return sub->run(&wishes, given, words + 1);
        }
        complain("`live %s` is written so:", name);
        print_usages(name, stderr);
        return STATUS_NOT_DONE;
    }
    complain_name("no such thing as `live`", name,
                  uvk_nearest(name, G_N_ELEMENTS(subcommands), subcommand_name, NULL));
    print_usages(NULL, stderr);
    return STATUS_NOT_DONE;
}

const struct command command_live = {
    "live",
    "WHAT [FILE]",
    "Read and change the running keyboard.",
    "uvrek live set boards/projection-room.uvk r2c3 on numbers 5\n"
    "\n"
    "  live list [FILE]                    keyboards here, and is it what FILE says\n"
    "  live open [FILE], live close [FILE] the door: the keyboard asks for keys\n"
    "  live diff FILE                      what FILE says and the keyboard does not do\n"
    "  live push FILE, live pull FILE      make the keyboard do it, or the text say it\n"
    "  live set FILE KEY [on LAYER] CELL   change a cell, in the text and the keyboard\n"
    "  live set FILE 'STATEMENT'           change a feel, a macro, a combo, a setting\n"
    "  live swap FILE KEY KEY              what two keys do changes places, on all layers\n"
    "  live light FILE LAMP [COLOUR]       light one lamp alone for a while\n"
    "  live undo FILE                      take the last `set` back, in both\n"
    "  live macro FILE NAME                what is typed on the keyboard becomes a macro\n"
    "  live edit FILE                      all of that on a screen\n"
    "  live watch FILE                     what is pressed, decided, and why\n"
    "  live forget [FILE]                  back to what was built in\n"
    "  live restart [FILE]                 start the keyboard again\n"
    "  live bootloader [FILE]              start its bootloader",
    options,
    ANY_WORDS,
    run};
