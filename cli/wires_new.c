/* wires_new.c - a board of which only the chip is known: its keys are pressed line by line. */
#include "asking.h"
#include "events.h"

#include "uvrek/files.h"

#include <stdio.h>
#include <string.h>

#define KNOB_WORD "knob "
#define HALF_WORD "half "
#define LINK_WORD "link "

struct learning {
    struct session session;
    const struct uvk_chip *chip;
    struct hearing hearing;
    struct uvk_discovery *halves[UVK_HALVES]; /* the second one is NULL: no halves so far */
    char *names[UVK_HALVES];                  /* of the halves; NULL: not told */
    char *link;                               /* the cable between them; NULL: not told */
    unsigned half;                            /* the one whose keys are pressed now */
};

static struct uvk_discovery *pressed(const struct learning *learning)
{
    return learning->halves[learning->half];
}

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
    char *joins;

    switch (uvk_discovery_key(pressed(learning),
                              (const struct uvk_conducts *)(void *)press->data, press->len,
                              &other)) {
    case UVK_PRESS_TAKEN:
        joins = hearing_text(&learning->hearing, NULL);
        printf("key %u: %s\n", uvk_discovery_count(pressed(learning)), joins);
        g_free(joins);
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
    struct uvk_turned turned;
    char *name = name_from(text);
    enum heard heard;

    printf("turn %s slowly to the right, by one click\n", name);
    (void)fflush(stdout);
    heard = hear_turn(&learning->hearing, &turned, error);
    if (heard == HEARD_PRESS) {
        uvk_discovery_knob(pressed(learning), name, &turned);
        printf("knob %s: %s closes first, then %s; %u change%s from click to click\n", name,
               turned.first->name, turned.second->name, turned.detent,
               turned.detent == 1 ? "" : "s");
    }
    g_free(name);
    return heard;
}

/* ---- halves ------------------------------------------------------------------------------ */

/* WHAT was asked for, and has been done: the computer's cable was out meanwhile. */
static enum heard reach_again(struct learning *learning, const char *what, GError **error)
{
    struct session *session = &learning->session;
    enum heard heard;

    printf("%s, then press Enter\n", what);
    (void)fflush(stdout);
    heard = hear_line(&learning->hearing);
    if (heard == HEARD_STOP) {
        return heard;
    }
    uvk_live_close(session->live);
    session->live = NULL;
    learning->hearing.live = NULL;
    return find_probe(session, learning->chip, error) &&
                   hearing_move(&learning->hearing, session->live, error)
               ? HEARD_PRESS
               : HEARD_TROUBLE;
}

/* The cable of the computer goes to the other half, which has a probe as well. */
static enum heard move(struct learning *learning, const char *name, GError **error)
{
    char *what = g_strdup_printf("put the computer's cable into %s, with a probe in it", name);
    enum heard heard = reach_again(learning, what, error);

    g_free(what);
    if (heard != HEARD_PRESS) {
        return heard;
    }
    learning->half = 1;
    learning->halves[1] = uvk_discovery_new(learning->chip);
    learning->names[1] = g_strdup(name);
    printf("the keys of %s follow\n", name);
    return HEARD_PRESS;
}

static bool may_move(const struct learning *learning, const char *name)
{
    const char *why = NULL;

    if (learning->half > 0) {
        why = "a keyboard has two halves at the most";
    } else if (strcmp(learning->names[0], name) == 0) {
        why = "that half is being pressed already";
    } else if (learning->link == NULL) {
        why =
            "first say how the halves are joined: link uart SENDS RECEIVES, or link wire PIN; "
            "link alone finds it out";
    }
    if (why != NULL) {
        puts(why);
    }
    return why == NULL;
}

/* The first half is named before its first key, the other one ends it. */
static enum heard take_half(struct learning *learning, const char *text, GError **error)
{
    char *name = name_from(text);
    enum heard heard = HEARD_PRESS;

    if (learning->names[0] == NULL && uvk_discovery_count(learning->halves[0]) > 0) {
        puts("say half NAME before the first key of that half");
    } else if (learning->names[0] == NULL) {
        learning->names[0] = g_strdup(name);
        printf("the keys of %s follow\n", name);
    } else if (may_move(learning, name)) {
        heard = move(learning, name, error);
    }
    g_free(name);
    return heard;
}

/* Takes TEXT over. */
static void take_link(struct learning *learning, char *text)
{
    g_free(learning->link);
    learning->link = text;
    printf("the halves are joined by %s\n", text);
}

/* What the other half's probe says over the cable. */
static enum heard listen_to_cable(struct learning *learning, GError **error)
{
    struct uvk_calls *calls = uvk_calls_new(learning->chip);
    enum heard heard = hear_cable(&learning->hearing, calls, error);
    char *text = heard == HEARD_PRESS ? uvk_calls_link(calls) : NULL;

    if (text != NULL) {
        take_link(learning, text);
    } else if (heard == HEARD_PRESS) {
        puts("nothing comes over that cable, or it is no link: is a probe in the other half?");
    }
    uvk_calls_free(calls);
    return heard;
}

static enum heard learn_link(struct learning *learning, GError **error)
{
    enum heard heard = reach_again(learning,
                                   "take the computer's cable out, join the halves, and put it "
                                   "in again",
                                   error);

    if (heard == HEARD_PRESS) {
        heard = listen_to_cable(learning, error);
    }
    if (heard != HEARD_PRESS) {
        return heard;
    }
    return reach_again(
        learning, "take the computer's cable out, part the halves, and put it in again", error);
}

static enum heard take_words(struct learning *learning, GError **error)
{
    const char *said = learning->hearing.said;

    if (g_str_has_prefix(said, KNOB_WORD)) {
        return take_knob(learning, said + strlen(KNOB_WORD), error);
    }
    if (g_str_has_prefix(said, HALF_WORD)) {
        return take_half(learning, said + strlen(HALF_WORD), error);
    }
    if (strcmp(said, "link") == 0) {
        return learn_link(learning, error);
    }
    if (g_str_has_prefix(said, LINK_WORD)) {
        take_link(learning, g_strdup(said + strlen(LINK_WORD)));
    } else {
        puts("say knob NAME, half NAME, link, link ..., back or stop; nothing but Enter begins "
             "the "
             "next line of keys");
    }
    return HEARD_PRESS;
}

static const char introduction[] =
    "Press the keys one by one, line by line, as they lie.\n"
    "Enter: the next line begins; knob NAME: a knob is turned; back: the last key was none; "
    "stop: that is all.\n"
    "A controller in each half: half NAME before the keys of each.";

static bool learn(struct learning *learning, GError **error)
{
    enum heard heard = HEARD_PRESS;

    puts(introduction);
    while (heard != HEARD_STOP && heard != HEARD_TROUBLE) {
        (void)fflush(stdout);
        heard = hear_press(&learning->hearing, error);
        if (heard == HEARD_PRESS) {
            take_key(learning);
        } else if (heard == HEARD_NOTHING) {
            uvk_discovery_line(pressed(learning));
            puts("the next line begins");
        } else if (heard == HEARD_BACK) {
            puts(uvk_discovery_back(pressed(learning)) ? "the last key is forgotten"
                                                       : "there is no key to forget");
        } else if (heard == HEARD_WORDS) {
            heard = take_words(learning, error);
        }
    }
    return heard == HEARD_STOP;
}

/* ---- the file ---------------------------------------------------------------------------- */

/* Left stands left, whichever was pressed first. */
static struct uvk_discovered discovered(const struct learning *learning)
{
    bool turned = learning->names[1] != NULL && strcmp(learning->names[1], "left") == 0;
    struct uvk_discovered all = {
        .halves = {learning->halves[turned], learning->halves[!turned]},
        .names = {learning->names[turned], learning->names[!turned]},
        .link = learning->link};

    return all;
}

/* What was learned may make no board: two knobs of one name, say. It is written all the same,
 * for nobody wants to press all keys again. */
static int print_board(const char *path, const char *text)
{
    struct uvk_program *program = uvk_program_load(path);
    int status = status_of(&program->messages);

    fputs(text, stdout);
    if (program->board != NULL) {
        printf("%s: a board of %u keys\n", path, program->board->key_count);
    }
    print_messages(&program->messages);
    uvk_program_free(program);
    return status;
}

static int write_board(const struct learning *learning, const char *path)
{
    const struct uvk_discovered all = discovered(learning);
    char *base = g_path_get_basename(path);
    char *name;
    char *text;
    GError *error = NULL;
    int status;

    if (g_str_has_suffix(base, ".uvk")) {
        base[strlen(base) - strlen(".uvk")] = '\0';
    }
    name = name_from(base);
    text = uvk_discovery_board(&all, name, &error);
    status = text != NULL && uvk_file_write(path, text, strlen(text), &error)
                 ? print_board(path, text)
                 : print_problem(error);
    g_free(text);
    g_free(name);
    g_free(base);
    return status;
}

static void clear(struct learning *learning)
{
    hearing_end(&learning->hearing);
    for (unsigned half = 0; half < UVK_HALVES; half++) {
        uvk_discovery_free(learning->halves[half]);
        g_free(learning->names[half]);
    }
    g_free(learning->link);
    session_end(&learning->session);
}

int learn_board(const struct live_wishes *wishes, const char *chip_name, const char *path)
{
    const struct uvk_chip *chip = uvk_chip_named(chip_name);
    struct learning learning = {.session = {.wishes = wishes}, .chip = chip};
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
    learning.halves[0] = uvk_discovery_new(chip);
    status = find_probe(&learning.session, chip, &error) &&
                     hearing_begin(&learning.hearing, learning.session.live, chip, &error) &&
                     learn(&learning, &error)
                 ? write_board(&learning, path)
                 : print_problem(error);
    clear(&learning);
    return status;
}
