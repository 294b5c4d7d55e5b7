/* wires_new.c - a board of which only the chip is known: its keys are pressed line by line. */
#include "asking.h"
#include "events.h"

#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>

#define KNOB_WORD "knob "

struct learning {
    struct hearing hearing;
    struct uvk_discovery *discovery;
};

static bool find_probe(struct session *session, const struct uvk_chip *chip, GError **error)
{
    char *what = g_strconcat("--chip ", chip->name, NULL);
    bool good;

    session->probe_for = what;
    good = session_find_probe(session, error);
    session->probe_for = NULL;
    g_free(what);
    if (good && strcmp(session->facts.note.chip, chip->name) != 0) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the probe is in an %s: say --chip %s, or plug in the other one",
                    session->facts.note.chip, session->facts.note.chip);
        good = false;
    }
    return good;
}

/* ---- one key after the other ------------------------------------------------------------- */

static void take_key(struct learning *learning)
{
    const GArray *press = learning->hearing.press;
    unsigned other;

    switch (uvk_discovery_key(learning->discovery,
                              (const struct uvk_conducts *)(void *)press->data, press->len,
                              &other)) {
    case UVK_PRESS_TAKEN:
        printf("key %u: ", uvk_discovery_count(learning->discovery));
        hearing_print(&learning->hearing, NULL);
        break;
    case UVK_PRESS_TWO:
        puts("more than one switch was closed: press one alone");
        break;
    default:
        printf("that was key %u again\n", other + 1);
        break;
    }
}

static enum heard take_knob(struct learning *learning, const char *text, GError **error)
{
    const struct uvk_pin *first;
    const struct uvk_pin *second;
    char *name = name_from(text);
    enum heard heard;

    printf("turn %s slowly to the right\n", name);
    (void)fflush(stdout);
    heard = hear_turn(&learning->hearing, &first, &second, error);
    if (heard == HEARD_PRESS) {
        uvk_discovery_knob(learning->discovery, name, first, second);
        printf("knob %s: %s closes first, then %s\n", name, first->name, second->name);
    }
    g_free(name);
    return heard;
}

static enum heard take_words(struct learning *learning, GError **error)
{
    const char *said = learning->hearing.said;

    if (g_str_has_prefix(said, KNOB_WORD)) {
        return take_knob(learning, said + strlen(KNOB_WORD), error);
    }
    puts("say knob NAME, back or stop; nothing but Enter begins the next line of keys");
    return HEARD_PRESS;
}

static bool learn(struct learning *learning, GError **error)
{
    enum heard heard = HEARD_PRESS;

    puts("Press the keys one by one, line by line, as they lie. Enter: the next line begins; "
         "knob NAME: a knob is turned; back: the last key was none; stop: that is all.");
    while (heard != HEARD_STOP && heard != HEARD_TROUBLE) {
        (void)fflush(stdout);
        heard = hear_press(&learning->hearing, error);
        if (heard == HEARD_PRESS) {
            take_key(learning);
        } else if (heard == HEARD_NOTHING) {
            uvk_discovery_line(learning->discovery);
            puts("the next line begins");
        } else if (heard == HEARD_BACK) {
            puts(uvk_discovery_back(learning->discovery) ? "the last key is forgotten"
                                                         : "there is no key to forget");
        } else if (heard == HEARD_WORDS) {
            heard = take_words(learning, error);
        }
    }
    return heard == HEARD_STOP;
}

/* ---- the file ---------------------------------------------------------------------------- */

/* What was learned may make no board: two knobs of one name, say. It is written all the same,
 * for nobody wants to press all keys again. */
static int write_board(const struct uvk_discovery *discovery, const char *path)
{
    char *base = g_path_get_basename(path);
    char *name;
    char *text;
    GError *error = NULL;
    struct uvk_program *program;
    int status;

    if (g_str_has_suffix(base, ".uvk")) {
        base[strlen(base) - strlen(".uvk")] = '\0';
    }
    name = name_from(base);
    text = uvk_discovery_board(discovery, name, &error);
    g_free(name);
    g_free(base);
    if (text == NULL || !uvk_file_write(path, text, strlen(text), &error)) {
        g_free(text);
        return print_problem(error);
    }
    fputs(text, stdout);
    printf("%s: a board of %u keys\n", path, uvk_discovery_count(discovery));
    program = uvk_program_load(path);
    print_messages(&program->messages);
    status = status_of(&program->messages);
    uvk_program_free(program);
    g_free(text);
    return status;
}

int learn_board(const struct live_wishes *wishes, const char *chip_name, const char *path)
{
    const struct uvk_chip *chip = uvk_chip_named(chip_name);
    struct session session = {.wishes = wishes};
    struct learning learning = {.discovery = NULL};
    GError *error = NULL;
    int status;

    if (chip == NULL) {
        complain("no chip is called '%s'", chip_name);
        return STATUS_NOT_DONE;
    }
    if (g_file_test(path, G_FILE_TEST_EXISTS)) {
        complain("%s is there already: choose another name", path);
        return STATUS_NOT_DONE;
    }
    listening_begins();
    learning.discovery = uvk_discovery_new(chip);
    status = find_probe(&session, chip, &error) &&
                     hearing_begin(&learning.hearing, session.live, chip, &error) &&
                     learn(&learning, &error)
                 ? write_board(learning.discovery, path)
                 : print_problem(error);
    hearing_end(&learning.hearing);
    uvk_discovery_free(learning.discovery);
    session_end(&session);
    return status;
}
