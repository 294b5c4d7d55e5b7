/* stored.c - which half this is, kept where it outlives power and firmware. */
#include "uvrek/half.h"
#include "uvrek/port.h"

#if UVK_USE_LINK && UVK_USE_JOURNAL

bool uvk_half_stored(struct uvk_journal *journal, struct uvk_port *port, char told)
{
    uint8_t kept = 0;

    (void)uvk_journal_get(journal, port, UVK_RECORD_HALF, &kept, 1);
    if (told != UVK_HALF_FIRST && told != UVK_HALF_SECOND) {
        return kept == UVK_HALF_SECOND;
    }
    if (kept != (uint8_t)told) {
        uint8_t byte = (uint8_t)told;
        (void)uvk_journal_put(journal, UVK_RECORD_HALF, &byte,
                              1); /* nothing else is written yet */
    }
    return told == UVK_HALF_SECOND;
}

#endif
