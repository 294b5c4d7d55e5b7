/* play_keys.c - which key a play, a combo or the leader means. */
#include "reading.h"

bool find_key(struct reading *reading, const struct uvk_node *node, unsigned *key)
{
    const struct uvk_value *cells = reading->keymap->layers[0].cells;
    struct uvk_value value;
    unsigned found = 0;
    bool broken = false;

    if (find_address(reading, node, key)) {
        return true;
    }
    value = cell_value(reading, node);
    if (value.kind == UVK_VALUE_BROKEN || cells == NULL) {
        return false;
    }
    for (unsigned i = reading->board->key_count; i-- > 0;) {
        broken |= cells[i].kind == UVK_VALUE_BROKEN;
        if (uvk_value_equal(uvk_value_tap(&cells[i]), uvk_value_tap(&value))) {
            *key = i;
            found++;
        }
    }
    if (found == 0 && broken) {
        return false; /* it may have been the cell with the mistake */
    }
    if (found == 0) {
        uvk_say(reading->messages, UVK_SAYS_NOTHING_TAPS, node->place,
                "an address such as r0c0 names any key", "no key taps this in layer '%s'",
                reading->keymap->layers[0].name);
    } else if (found > 1) {
        char *first = uvk_cell_place(reading->board, *key);
        char *fix = g_strdup_printf("the first of them is %s", first);
        uvk_say(reading->messages, UVK_SAYS_SEVERAL_TAP, node->place, fix,
                "%u keys tap this in layer '%s'", found, reading->keymap->layers[0].name);
        g_free(first);
        g_free(fix);
    }
    return found == 1;
}
