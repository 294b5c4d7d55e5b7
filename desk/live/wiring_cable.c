/* wiring_cable.c - what the cable between two halves joins, and which half is the main one. */
#include "wired.h"

void uvk_wiring_take_cable(struct uvk_wiring *wiring, const struct uvk_calls *calls)
{
    wiring->listened = true;
    g_array_unref(wiring->across);
    wiring->across = calls_pairs(calls);
}

void uvk_wiring_ground(struct uvk_wiring *wiring, const struct uvk_pin *pin)
{
    g_array_append_val(wiring->grounded, pin);
}

/* ---- the cable --------------------------------------------------------------------------- */

static const struct joined_pins *pair_at(const struct uvk_wiring *wiring, guint at)
{
    return &g_array_index(wiring->across, struct joined_pins, at);
}

/* The pin of the other half that PIN is joined to; NULL: none. */
static const struct uvk_pin *across(const struct uvk_wiring *wiring, const struct uvk_pin *pin)
{
    for (guint i = 0; i < wiring->across->len; i++) {
        if (pair_at(wiring, i)->a == pin) {
            return pair_at(wiring, i)->b;
        }
    }
    return NULL;
}

/* Where a cable that is as the file says leads from PIN. */
static const struct uvk_pin *wanted(const struct uvk_link *link, const struct uvk_pin *pin)
{
    return link->straight ? pin : pin == link->transmit ? link->receive : link->transmit;
}

static bool is_as_written(const struct uvk_wiring *wiring)
{
    const struct uvk_link *link = &wiring->board->link;

    return across(wiring, link->transmit) == wanted(link, link->transmit) &&
           across(wiring, link->receive) == wanted(link, link->receive);
}

/* The two lines of the file, but each on the other one's pin. */
static bool is_crossed(const struct uvk_wiring *wiring)
{
    const struct uvk_link *link = &wiring->board->link;

    return !link->one_wire && wiring->across->len == 2 &&
           across(wiring, link->transmit) == wanted(link, link->receive) &&
           across(wiring, link->receive) == wanted(link, link->transmit);
}

/* "D2 here to D3 of the other half, D3 ...": all that was heard. */
static char *evidence(const struct uvk_wiring *wiring)
{
    GString *out = g_string_new(NULL);

    for (guint i = 0; i < wiring->across->len; i++) {
        g_string_append_printf(out, "%s%s here to %s of the other half", i > 0 ? ", " : "",
                               uvk_pin_label(wiring->board, pair_at(wiring, i)->a),
                               uvk_pin_label(wiring->board, pair_at(wiring, i)->b));
    }
    return g_string_free(out, FALSE);
}

/* Two pins that hear the same one are the same line. */
static bool has_bridge(const struct uvk_wiring *wiring)
{
    return wiring->across->len == 2 && pair_at(wiring, 0)->b == pair_at(wiring, 1)->b;
}

static const char *verdict(const struct uvk_wiring *wiring)
{
    const struct uvk_link *link = &wiring->board->link;

    return is_crossed(wiring) && link->straight
               ? "its lines cross, and the file says `straight`"
           : is_crossed(wiring) ? "its lines do not cross, and the file says that they do"
           : has_bridge(wiring) ? "its two lines are joined: look for a bridge"
           : wiring->across->len == 1 && !link->one_wire
               ? "nothing comes over the other line: it is broken"
               : "the file says otherwise";
}

void wiring_tell_cable(const struct uvk_wiring *wiring, GPtrArray *list)
{
    char *pairs;

    if (!wiring->listened || is_as_written(wiring)) {
        return;
    }
    if (wiring->across->len == 0) {
        g_ptr_array_add(list,
                        g_strdup("nothing comes over the cable between the halves: it is "
                                 "out or broken, brings no power, or there is no probe in "
                                 "the other half"));
        return;
    }
    pairs = evidence(wiring);
    g_ptr_array_add(list, g_strdup_printf("the cable between the halves joins %s: %s", pairs,
                                          verdict(wiring)));
    g_free(pairs);
}

/* A cable of the other kind, one line or two, is not for the file to follow. */
static char *words(const struct uvk_wiring *wiring)
{
    const struct uvk_link *link = &wiring->board->link;

    return (wiring->across->len == 1) == link->one_wire
               ? pairs_link(wiring->across, wiring->board, link->transmit)
               : NULL;
}

#define FIXED_PINS                                                                             \
    "this chip has its link on two pins that it cannot swap: take a cable that crosses, or "   \
    "solder its ends to those pins"

char *wiring_link_words(const struct uvk_wiring *wiring, const char **why_not)
{
    char *text;

    if (!wiring->listened || wiring->across->len == 0 || is_as_written(wiring)) {
        return NULL;
    }
    text = words(wiring);
    if (text != NULL && wiring->board->chip->link_sends != NULL) {
        *why_not = FIXED_PINS;
        g_free(text);
        text = NULL;
    }
    return text;
}

/* ---- the main half ----------------------------------------------------------------------- */

static bool is_grounded(const struct uvk_wiring *wiring, const struct uvk_pin *pin)
{
    for (guint i = 0; i < wiring->grounded->len; i++) {
        if (g_array_index(wiring->grounded, const struct uvk_pin *, i) == pin) {
            return true;
        }
    }
    return false;
}

/* The pin that says which half this is says the other one. */
static bool pin_is_wrong(const struct uvk_wiring *wiring)
{
    const struct uvk_board *board = wiring->board;

    return board->main == UVK_MAIN_PIN && !uvk_one_controller(board) &&
           board->main_pin != NULL &&
           is_grounded(wiring, board->main_pin) != (wiring->half == 0);
}

/* The halves are joined, and the computer's cable is in the one that it does not belong into.
 */
static bool cable_is_wrong(const struct uvk_wiring *wiring)
{
    enum uvk_main rule = wiring->board->main;

    return wiring->across->len > 0 && ((rule == UVK_MAIN_FIRST && wiring->half == 1) ||
                                       (rule == UVK_MAIN_SECOND && wiring->half == 0));
}

void wiring_tell_main(const struct uvk_wiring *wiring, GPtrArray *list)
{
    const struct uvk_board *board = wiring->board;
    const char *here = board->halves[wiring->half].name;
    const char *there = board->halves[1 - wiring->half].name;

    if (pin_is_wrong(wiring)) {
        g_ptr_array_add(
            list,
            g_strdup_printf("'%s' takes itself for '%s', so the main half is wrong: %s %s",
                            here, there, uvk_pin_label(board, board->main_pin),
                            wiring->half == 0
                                ? "is not joined to ground here, where it should be"
                                : "is joined to ground here, and should be on the other half "
                                  "only"));
    } else if (cable_is_wrong(wiring)) {
        g_ptr_array_add(
            list,
            g_strdup_printf("the main half is wrong: the computer's cable is in '%s', and the "
                            "file says main %s, so the keys of each half do what those of the "
                            "other are for",
                            here, there));
    }
}

char *wiring_main_words(const struct uvk_wiring *wiring)
{
    return cable_is_wrong(wiring) ? g_strdup(wiring->board->halves[wiring->half].name) : NULL;
}
