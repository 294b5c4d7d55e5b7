/* settings.c - set NAME VALUE in a board or a keymap; the keymap wins. */
#include "reading.h"

#include "uvrek/image.h"

/* The settings that there are, in the order of their names. Times are microseconds. */
enum { SET_DEBOUNCE, SET_ONCE_FOR };
static const char *const names[] = {"debounce", "once-for", NULL};
static const struct {
    double least, most;
} ranges[] = {
    [SET_DEBOUNCE] = {0, UVK_DEBOUNCE_MAX * 1000.0},
    [SET_ONCE_FOR] = {UVK_ONCE_FOR_MIN * 1000.0, UVK_ONCE_FOR_MAX * 1000.0},
};

void read_set(struct reading *reading, const struct uvk_node *statement)
{
    int index = want_word(reading, want(reading, statement, 1, UVK_NODE_NAME, "a setting"), 12,
                          names, "setting");
    double value;

    if (index < 0 || reading->board == NULL ||
        !want_time(reading, want(reading, statement, 2, UVK_NODE_TIME, "a time"),
                   ranges[index].least, ranges[index].most, &value)) {
        return;
    }
    want_end(reading, statement, 3);
    if (index == SET_DEBOUNCE) {
        reading->board->debounce = value;
    } else if (reading->keymap != NULL) {
        reading->keymap->once_for = value;
    } else {
        reading->board->once_for = value;
    }
}
