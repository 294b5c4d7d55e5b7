/* spare.c - spare r3c4: places of the matrix where no key is meant to stand. */
#include "reading.h"

static void read_address(struct reading *reading, const struct uvk_node *node,
                         struct uvk_half *half)
{
    struct key_address address;

    if (node->kind != UVK_NODE_NAME || !parse_address(node->text, &address) || address.direct) {
        uvk_say(reading->messages, UVK_SAYS_EXPECTED, node->place, NULL,
                "expected an address of the matrix such as r0c3");
    } else if (!reading->wires_unknown &&
               (address.row >= half->row_count || address.col >= half->col_count)) {
        uvk_say(reading->messages, UVK_SAYS_OUTSIDE_MATRIX, node->place, NULL,
                "the matrix has no place %s: it has %u rows and %u columns", node->text,
                half->row_count, half->col_count);
    } else if (!reading->wires_unknown) {
        half->spare[address.row] |= (uint32_t)1 << address.col;
    }
}

void read_spare(struct reading *reading, const struct uvk_node *statement, void *subject)
{
    const struct wired *wired = subject;

    if (item(statement, 1) == NULL) {
        want(reading, statement, 1, UVK_NODE_NAME, "an address such as r0c3");
    }
    for (const struct uvk_node *node = item(statement, 1); node != NULL; node = node->next) {
        read_address(reading, node, wired->half);
    }
}
