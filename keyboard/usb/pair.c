/* pair.c - one half of two: the one that sees a host leads. */
#include "uvrek/usb.h"

#if UVK_USE_LINK

#include "uvrek/half.h"

void uvk_pair_start(struct uvk_usb *usb, bool second)
{
    const struct uvk_half_setup setup = {second, UVK_SECOND_WINS, UVK_HALF_ROLE,
                                         UVK_SECOND_KNOBS, UVK_LINK_ANSWER_MS};

    /* the build has looked whether it fits */
    (void)uvk_half_start(uvk_usb_engine(usb), &setup);
}

/* Where the host says which half it is, both are wired alike. */
bool uvk_pair_has(const struct uvk_usb *usb, bool second)
{
    return UVK_HALVES_BY_HOST || uvk_half_is_second(uvk_usb_engine(usb)) == second;
}

bool uvk_pair_tick(struct uvk_usb *usb, struct uvk_port *port, uint32_t now_us)
{
    uvk_half_tick(uvk_usb_engine(usb), port, now_us, usb->configuration != 0);
    return uvk_half_leads(uvk_usb_engine(usb));
}

void uvk_pair_hear(struct uvk_usb *usb, struct uvk_port *port)
{
    uvk_half_hear(uvk_usb_engine(usb), port);
}

bool uvk_pair_may_sleep(const struct uvk_usb *usb)
{
    return uvk_half_leads(uvk_usb_engine(usb));
}

#endif
