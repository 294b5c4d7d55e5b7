/* calls.c - what a probe without a host says over a cable, pulse by pulse: call.h. */
#include "uvrek/call.h"
#include "uvrek/wiring.h"

/* Shorter is a 0, longer a 1; a longer rest than in a slot is the pause. */
#define MIDDLE_MS ((UVK_CALL_SHORT_MS + UVK_CALL_SHORT_MS * UVK_CALL_ONE) / 2u)
#define PAUSE_MS  (UVK_CALL_SLOT_MS + UVK_CALL_LATE_MS)

/* What has come over one pin. */
struct caller {
    bool low, begun;       /* now; a pulse has been seen */
    uint16_t since;        /* ms: of the last change */
    unsigned bits, number; /* of the number that is being said */
    unsigned said, times;  /* the last one that was whole, and how often it came in a row */
};

struct uvk_calls {
    const struct uvk_chip *chip;
    struct caller callers[]; /* for each pin of the chip */
};

struct uvk_calls *uvk_calls_new(const struct uvk_chip *chip)
{
    struct uvk_calls *calls =
        g_malloc0(sizeof *calls + chip->pin_count * sizeof calls->callers[0]);

    calls->chip = chip;
    return calls;
}

void uvk_calls_free(struct uvk_calls *calls)
{
    g_free(calls);
}

/* A pause is behind it. */
static void end_number(struct caller *caller)
{
    bool again = caller->times > 0 && caller->number == caller->said;

    if (caller->bits == UVK_CALL_BITS) {
        caller->said = caller->number;
        caller->times = again ? caller->times + 1 : 1;
    } else {
        caller->times = 0;
    }
}

void uvk_calls_take(struct uvk_calls *calls, const struct uvk_pin *pin, bool on, uint16_t ms)
{
    struct caller *caller = &calls->callers[pin - calls->chip->pins];
    unsigned lasted = (uint16_t)(ms - caller->since);

    if (on && caller->begun && lasted > PAUSE_MS) {
        end_number(caller);
    }
    if (on && (!caller->begun || lasted > PAUSE_MS)) {
        caller->bits = 0;
        caller->number = 0;
    }
    if (!on && caller->low && caller->bits <= UVK_CALL_BITS) {
        caller->number |= lasted > MIDDLE_MS ? 1u << caller->bits : 0;
        caller->bits++;
        caller->begun = true;
    }
    caller->low = on;
    caller->since = ms;
}

const struct uvk_pin *uvk_calls_pin(const struct uvk_calls *calls, const struct uvk_pin *pin)
{
    const struct caller *caller = &calls->callers[pin - calls->chip->pins];

    return caller->times > 1 && caller->said < calls->chip->pin_count
               ? &calls->chip->pins[caller->said]
               : NULL;
}

/* ---- as words ---------------------------------------------------------------------------- */

/* The numbers of the pins over which anything is said: how many there are, the first two of
 * them. */
static unsigned called(const struct uvk_calls *calls, size_t pins[2])
{
    unsigned count = 0;

    for (size_t i = 0; i < calls->chip->pin_count; i++) {
        if (uvk_calls_pin(calls, &calls->chip->pins[i]) != NULL) {
            pins[MIN(count, 1u)] = i;
            count++;
        }
    }
    return count;
}

/* Which of the two sends is for the chip to say, if it can do so on one only. */
static char *uart_words(const struct uvk_calls *calls, const struct uvk_pin *a,
                        const struct uvk_pin *b)
{
    bool turned = g_strcmp0(b->name, calls->chip->link_sends) == 0;
    bool straight = uvk_calls_pin(calls, a) == a && uvk_calls_pin(calls, b) == b;
    bool crosses = uvk_calls_pin(calls, a) == b && uvk_calls_pin(calls, b) == a;

    return straight || crosses
               ? g_strdup_printf("uart %s %s%s", turned ? b->name : a->name,
                                 turned ? a->name : b->name, straight ? " straight" : "")
               : NULL;
}

char *uvk_calls_link(const struct uvk_calls *calls)
{
    size_t pins[2] = {0};
    unsigned count = called(calls, pins);
    const struct uvk_pin *first = &calls->chip->pins[pins[0]];

    if (count == 1 && uvk_calls_pin(calls, first) == first) {
        return g_strdup_printf("wire %s", first->name);
    }
    return count == 2 ? uart_words(calls, first, &calls->chip->pins[pins[1]]) : NULL;
}
