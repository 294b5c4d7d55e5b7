/* calls.c - what a probe without a host says over a cable, pulse by pulse: call.h. */
#include "wired.h"

#include "uvrek/call.h"

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

GArray *calls_pairs(const struct uvk_calls *calls)
{
    GArray *pairs = g_array_new(FALSE, TRUE, sizeof(struct joined_pins));

    for (size_t i = 0; i < calls->chip->pin_count; i++) {
        const struct uvk_pin *pin = &calls->chip->pins[i];
        struct joined_pins pair = {pin, uvk_calls_pin(calls, pin)};
        if (pair.b != NULL) {
            g_array_append_val(pairs, pair);
        }
    }
    return pairs;
}

/* ---- as words ---------------------------------------------------------------------------- */

static const char *name_of(const struct uvk_board *board, const struct uvk_pin *pin)
{
    return board != NULL ? uvk_pin_label(board, pin) : pin->name;
}

/* Two lines that cross, or are straight; which of them sends does not matter where all can. */
static char *uart_words(const struct joined_pins pairs[2], const struct uvk_board *board,
                        const struct uvk_pin *sends)
{
    bool turned = sends != NULL && pairs[1].a == sends;
    bool straight = pairs[0].a == pairs[0].b && pairs[1].a == pairs[1].b;
    bool crosses = pairs[0].a == pairs[1].b && pairs[1].a == pairs[0].b;

    return straight || crosses
               ? g_strdup_printf("uart %s %s%s", name_of(board, pairs[turned].a),
                                 name_of(board, pairs[!turned].a), straight ? " straight" : "")
               : NULL;
}

char *pairs_link(const GArray *pairs, const struct uvk_board *board,
                 const struct uvk_pin *sends)
{
    const struct joined_pins *first = (const struct joined_pins *)(void *)pairs->data;

    if (pairs->len == 1 && first->a == first->b) {
        return g_strdup_printf("wire %s", name_of(board, first->a));
    }
    return pairs->len == 2 ? uart_words(first, board, sends) : NULL;
}

char *uvk_calls_link(const struct uvk_calls *calls)
{
    const char *sends = calls->chip->link_sends;
    GArray *pairs = calls_pairs(calls);
    char *text =
        pairs_link(pairs, NULL, sends != NULL ? uvk_chip_pin(calls->chip, sends) : NULL);

    g_array_unref(pairs);
    return text;
}
