/* blocks.c - keys that are kept from the host until they are let through again. */
#include "outputs.h"

#if UVK_USE_BLOCKS

void uvk_blocks_flip(struct uvk_engine *engine, uint8_t usage)
{
    engine->blocked[usage >> 3] ^= uvk_bit(usage);
}

void uvk_blocks_apply(const struct uvk_engine *engine, uint8_t bitmap[UVK_BITMAP_BYTES])
{
    for (uint8_t i = 0; i < UVK_BITMAP_BYTES; i++) {
        bitmap[i] &= (uint8_t)~engine->blocked[i];
    }
}

#endif
