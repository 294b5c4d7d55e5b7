/* wires_turn.c - what a probe tells of the contacts of a knob that is turned to the right. */
#include "asking.h"

#define QUIET_MS 400 /* a knob that has not moved for so long has stopped */

/* A click is over when the contacts have been quiet for so long, by the keyboard's clock. */
#define CLICK_MS 300u

struct turning {
    uint64_t before; /* pins that were joined to ground when it began */
    struct uvk_turned turned;
    unsigned changes; /* of the first click */
    uint16_t at;      /* ms: when the last one came */
    bool clicked;
};

static void count_change(struct turning *turning, uint16_t ms)
{
    turning->clicked |= turning->changes > 0 && (uint16_t)(ms - turning->at) >= CLICK_MS;
    turning->changes += !turning->clicked;
}

/* Which contact was first. Where one look saw both change, the next changes have to tell. */
static void order_contacts(struct turning *turning, const struct hearing *hearing,
                           const struct uvk_pin *pin, uint16_t ms)
{
    struct uvk_turned *turned = &turning->turned;

    if (turned->first == NULL) {
        turned->first = pin;
    } else if (turned->second != NULL || pin == turned->first) {
        return;
    } else if (ms == turning->at) {
        turned->first = NULL;
        turning->before = hearing->grounded;
    } else {
        turned->second = pin;
    }
}

/* As hearing_next, of the knob's contacts. */
static int next_change(struct hearing *hearing, struct turning *turning, GError **error)
{
    struct uvk_live_event event;
    struct uvk_conducts pair;
    int come = hearing_next(hearing, &event, error);

    if (come > 0 && hearing_pair(hearing, &event, &pair) && pair.low == NULL) {
        count_change(turning, event.ms);
        order_contacts(turning, hearing, pair.high, event.ms);
        turning->at = event.ms;
    }
    return come;
}

/* Until the knob has stopped. */
static enum heard wait_for_rest(struct hearing *hearing, struct turning *turning,
                                GError **error)
{
    gint64 quiet = g_get_monotonic_time();

    while (g_get_monotonic_time() - quiet < QUIET_MS * (gint64)1000) {
        int come = next_change(hearing, turning, error);
        if (come < 0) {
            return HEARD_TROUBLE;
        }
        if (come > 0) {
            quiet = g_get_monotonic_time();
        }
    }
    return HEARD_PRESS;
}

static bool is_set(uint64_t bits, const struct hearing *hearing, const struct uvk_pin *pin)
{
    return (bits >> (pin - hearing->chip->pins) & 1u) != 0;
}

/* Between two detents the second contact changes first. More changes than a click has are
 * several clicks, and most knobs have four in each. */
static struct uvk_turned turned_of(const struct turning *turning, const struct hearing *hearing)
{
    struct uvk_turned turned = turning->turned;

    if (is_set(turning->before, hearing, turned.first) !=
        is_set(turning->before, hearing, turned.second)) {
        turned.first = turning->turned.second;
        turned.second = turning->turned.first;
    }
    turned.detent = turning->changes <= 2 ? turning->changes : 4;
    return turned;
}

enum heard hear_turn(struct hearing *hearing, struct uvk_turned *turned, GError **error)
{
    struct turning turning = {.before = hearing->grounded};
    gint64 end = hearing_until();
    enum heard heard;

    while (turning.turned.second == NULL) {
        if (!hearing_goes_on(hearing, end, &heard)) {
            return heard;
        }
        if (next_change(hearing, &turning, error) < 0) {
            return HEARD_TROUBLE;
        }
    }
    heard = wait_for_rest(hearing, &turning, error);
    *turned = turned_of(&turning, hearing);
    return heard;
}
