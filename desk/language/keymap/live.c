/* live.c - live { room BYTES } */
#include "reading.h"

#include "uvrek/image.h"

#define ROOM_LEAST 16u
#define ROOM_USUAL 256u

static void read_room(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *node = want(reading, statement, 1, UVK_NODE_NUMBER, "bytes");
    const struct uvk_chip *chip = reading->board != NULL ? reading->board->chip : NULL;
    unsigned most = chip != NULL ? chip->live_most : UVK_LIVE_ROOM;
    double room;

    (void)subject;
    if (want_number(reading, node, ROOM_LEAST, most, "the room", &room)) {
        reading->keymap->live_room = (unsigned)room;
        want_end(reading, statement, 2);
    }
}

static const struct rule live_rules[] = {{"room", read_room, false}};

void read_live(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct uvk_node *block = want_block(reading, statement);

    (void)subject;
    if (block == NULL) {
        return;
    }
    want_end(reading, statement, 1);
    reading->keymap->live_place = statement->child->place;
    reading->keymap->live_room = ROOM_USUAL;
    read_block(reading, block, live_rules, G_N_ELEMENTS(live_rules), "live", NULL);
}
