/* keys_hear.c - the keyboard whose keys are tried: found, opened, and heard. */
#include "trying.h"

#include "uvrek/halves.h"

#define KINDS (1u << UVK_EVENT_CONTACT | 1u << UVK_EVENT_SWITCH)

/* ---- the keyboard ------------------------------------------------------------------------ */

/* How long the keyboard debounces, in ms. */
static bool read_debounce(struct trying *trying, unsigned *ms, GError **error)
{
    const struct uvk_image *image = uvk_live_image(trying->session->live, error);

    if (image != NULL) {
        *ms = uvk_image_setting(image, UVK_SET_DEBOUNCE);
    }
    return image != NULL;
}

static char *halves_text(const struct uvk_board *board, const struct uvk_halves_told *told)
{
    unsigned all = told->good + told->broken;
    const char *trouble = uvk_half_trouble_text(told->trouble);

    if (trouble != NULL) {
        return g_strdup_printf("%s%s", trouble,
                               told->trouble == UVK_HALF_ALONE
                                   ? ". A probe in each half tells which: uvrek wires --link"
                                   : "");
    }
    return g_strdup_printf("halves: this is %s, the main one; %s answers; %u of %u of its "
                           "frames came damaged",
                           board->halves[told->second].name, board->halves[!told->second].name,
                           told->broken, all);
}

/* A keyboard that is asked in vain says nothing of its halves. */
static void ask_halves(struct trying *trying)
{
    const struct uvk_board *board = trying->session->program->board;
    struct uvk_halves_told told;

    if (!uvk_one_controller(board) && !trying->probe &&
        uvk_halves_ask(uvk_live_cable(trying->session->live), &told, NULL)) {
        trying->halves = halves_text(board, &told);
    }
}

bool trying_begin(struct trying *trying, const char *half_name, GError **error)
{
    struct session *session = trying->session;
    unsigned debounce;
    unsigned half = 0;

    session->probe_for = session->path;
    session->otherwise = "If its keymap does not say `live { }`, write a probe into it";
    if (!session_find(session, error)) {
        return false;
    }
    trying->probe = session_has_probe(session);
    if (trying->probe ? !probed_half(session->program->board, half_name, &half, error)
                      : !session_open(session, error)) {
        return false;
    }
    ask_halves(trying);
    if (!read_debounce(trying, &debounce, error) ||
        !uvk_live_watch(session->live, KINDS | UVK_WATCH_KEEPS, error)) {
        return false;
    }
    trying->test = uvk_keytest_new(session->program->board, debounce, trying->probe, half);
    return true;
}

/* ---- event by event ---------------------------------------------------------------------- */

/* The one key that is down, if it was not so from the start. */
static void find_held(struct trying *trying)
{
    int held = -1;
    unsigned down = 0;

    for (unsigned i = 0; i < trying->session->program->board->key_count; i++) {
        const struct uvk_key_seen *seen = uvk_keytest_seen(trying->test, i);
        if (seen->down && !seen->from_start) {
            held = (int)i;
            down++;
        }
    }
    if (down != 1) {
        held = -1;
    }
    if (held != trying->held) {
        trying->held = held;
        trying->held_from = g_get_monotonic_time();
    }
}

bool trying_is_enough(const struct trying *trying)
{
    return trying->held >= 0 &&
           g_get_monotonic_time() - trying->held_from >= ENOUGH_S * (gint64)G_USEC_PER_SEC;
}

int trying_next(struct trying *trying, unsigned ms, struct uvk_live_event *event, int *cell,
                GError **error)
{
    int come = uvk_live_next(trying->session->live, ms, event, error);

    if (come > 0) {
        (void)events_take(&trying->events, event);
        *cell = uvk_keytest_take(trying->test, event, events_ms(&trying->events, event));
        /* a turn is there when it is done, whichever way its contact changed */
        event->on = event->on || *cell >= (int)trying->session->program->board->key_count;
        find_held(trying);
    }
    return come;
}
