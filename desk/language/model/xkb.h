/* xkb.h - what the two files about layouts share. */
#ifndef UVREK_TEXT_XKB_H
#define UVREK_TEXT_XKB_H

#include "host_keys.h"

#include "uvrek/host_layout.h"

#include <xkbcommon/xkbcommon-compose.h>
#include <xkbcommon/xkbcommon.h>

struct uvk_layout {
    enum uvk_system system;
    const struct host_keys *host; /* NULL: libxkbcommon says what keys type */
    struct xkb_context *context;  /* NULL with HOST, and the next one */
    struct xkb_keymap *keymap;
    GHashTable *keys; /* character -> mods << 8 | usage */
    GHashTable *dead; /* keysym of a dead key, or combining character -> the same */
    struct xkb_compose_table *compose; /* read when it is needed */
    bool no_compose;                   /* it is not on this machine */
    GHashTable *composed; /* character -> dead key << 16 | key; made when it is needed */
};

#define XKB_FIRST  8u /* libxkbcommon counts from 8 */
#define XKB_USAGES 0xE8u
extern const uint8_t xkb_code_of_usage[XKB_USAGES];

static inline xkb_keycode_t xkb_code(uint8_t usage)
{
    return (xkb_keycode_t)xkb_code_of_usage[usage] + XKB_FIRST;
}

/* The compose table, NULL if there is none. */
struct xkb_compose_table *layout_compose(struct uvk_layout *layout);

#endif
