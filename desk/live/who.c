/* who.c - which keyboards are there, and who they are. */
#include "live.h"

#include <string.h>

#define CLASS_HID    3
#define INTERFACE    4
#define ENDPOINT     5
#define HID          0x21
#define DIRECTION_IN 0x80
#define NOTE_PIECES  24u /* of a note, at the most: names are no longer */

/* ---- facts ------------------------------------------------------------------------------- */

static uint16_t two(const uint8_t *at)
{
    return (uint16_t)(at[0] | at[1] << 8);
}

static uint32_t four(const uint8_t *at)
{
    return two(at) | (uint32_t)two(at + 2) << 16;
}

/* The note, piece by piece, up to its zero. */
static bool read_note(struct uvk_live *live, struct uvk_note *note, GError **error)
{
    uint8_t bytes[NOTE_PIECES * UVK_DOOR_CONTENT + 1] = {0};
    uint8_t *at = bytes;

    for (uint8_t page = 1; page <= NOTE_PIECES; page++, at += UVK_DOOR_CONTENT) {
        if (!talk(live, UVK_DOOR_WHO, &page, 1, at, error)) {
            return false;
        }
        if (memchr(at, 0, UVK_DOOR_CONTENT) != NULL) {
            break;
        }
    }
    if (!uvk_note_find(bytes, sizeof bytes, note)) {
        g_set_error_literal(error, UVK_PROBLEM, UVK_NOT_DONE,
                            "what the keyboard says of itself makes no sense");
        return false;
    }
    return true;
}

bool uvk_live_who(struct uvk_live *live, struct uvk_live_facts *facts, GError **error)
{
    uint8_t told[UVK_DOOR_CONTENT];
    const uint8_t first = 0;
    uint8_t flags;

    memset(facts, 0, sizeof *facts);
    if (!talk(live, UVK_DOOR_WHO, &first, 1, told, error)) {
        return false;
    }
    if (told[0] != (UVK_DOOR_VERSION << 4 | UVK_IMAGE_VERSION)) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the keyboard's firmware is of another version of uvrek (its live door %u, "
                    "its image %u; here %u and %u): build and flash it again",
                    told[0] >> 4, told[0] & 0xFu, UVK_DOOR_VERSION, UVK_IMAGE_VERSION);
        return false;
    }
    flags = told[1] >> 4;
    facts->door = (enum uvk_door_state)(told[1] & 0xFu);
    facts->keeps_other = (flags & UVK_DOOR_KEEPS_OTHER) != 0;
    facts->is_half = (flags & UVK_DOOR_IS_HALF) != 0;
    facts->is_second = (flags & UVK_DOOR_IS_SECOND) != 0;
    facts->has_other = (flags & UVK_DOOR_HAS_OTHER) != 0;
    facts->built = two(told + 2);
    facts->serial = four(told + 4);
    facts->base = four(told + 8);
    facts->sum = four(told + 12);
    facts->size = two(told + 16);
    facts->used = (uint16_t)(UVK_CHANGED_WORD * two(told + 18) + facts->size - facts->built);
    facts->features = four(told + 20);
    facts->room = two(told + 26);
    return read_note(live, &facts->note, error);
}

/* ---- opening ----------------------------------------------------------------------------- */

/* What the third interface of a keyboard with a live door is like: two endpoints of its size,
 * and what its report descriptor is long. */
struct likeness {
    bool here, in, out;
    unsigned items;
};

/* Descriptors that stand behind one another (USB 2.0, 9.5). */
static struct likeness likeness_of(const uint8_t *bytes, size_t size)
{
    struct likeness likeness = {false, false, false, 0};

    for (size_t at = 0; at + 2 <= size && bytes[at] >= 2 && at + bytes[at] <= size;
         at += bytes[at]) {
        const uint8_t *item = bytes + at;
        if (item[1] == INTERFACE && item[0] >= 9) {
            likeness.here = item[2] == UVK_LIVE_INTERFACE && item[5] == CLASS_HID;
        } else if (likeness.here && item[1] == HID && item[0] >= 9) {
            likeness.items = two(item + 7);
        } else if (likeness.here && item[1] == ENDPOINT && item[0] >= 7 &&
                   two(item + 4) == UVK_DOOR_BYTES) {
            likeness.in = likeness.in || item[2] == (UVK_LIVE_IN | DIRECTION_IN);
            likeness.out = likeness.out || item[2] == UVK_LIVE_OUT;
        }
    }
    return likeness;
}

/* Nothing is taken from a device, or sent to it, before it looks like one of ours. */
static bool is_door(const char *where, const char *name, GError **error)
{
    struct uvk_cable *cable = uvk_cable_open(where, name, UVK_CONTROL_PIPE, error);
    struct likeness likeness = {false, false, false, 0};
    uint8_t *configuration;
    size_t size;

    if (cable == NULL) {
        return false;
    }
    configuration = uvk_cable_configuration(cable, &size);
    if (configuration != NULL) {
        likeness = likeness_of(configuration, size);
    }
    g_free(configuration);
    uvk_cable_close(cable);
    if (likeness.in && likeness.out && likeness.items == UVK_LIVE_ITEM_BYTES) {
        return true;
    }
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                "the keyboard at %s has no live door: its keymap was built without a `live` "
                "block",
                name);
    return false;
}

struct uvk_live *uvk_live_open(const char *where, const char *name, GError **error)
{
    struct uvk_cable *cable = is_door(where, name, error)
                                  ? uvk_cable_open(where, name, UVK_LIVE_INTERFACE, error)
                                  : NULL;
    struct uvk_live *live;

    if (cable == NULL) {
        return NULL;
    }
    live = g_new0(struct uvk_live, 1);
    live->cable = cable;
    live->name = g_strdup(name);
    live->number = (uint8_t)g_random_int(); /* answers to somebody else are not for us */
    live->heard = live->number;
    live->events = g_queue_new();
    drain(live);
    return live;
}

void uvk_live_close(struct uvk_live *live)
{
    if (live != NULL) {
        uvk_cable_close(live->cable);
        g_queue_free_full(live->events, g_free);
        g_free(live->bytes);
        g_free(live->name);
        g_free(live);
    }
}

const char *uvk_live_name(const struct uvk_live *live)
{
    return live->name;
}

struct uvk_cable *uvk_live_cable(const struct uvk_live *live)
{
    return live->cable;
}

/* ---- the list ---------------------------------------------------------------------------- */

static void free_found(gpointer data)
{
    struct uvk_live_found *found = data;

    g_free(found->name);
    g_free(found->title);
    g_free(found->why);
    g_free(found);
}

/* Three HID interfaces: it could be one. */
static bool may_have_door(const struct uvk_usb_device *device)
{
    unsigned count = 0;

    for (unsigned i = 0; i < device->interface_count; i++) {
        count += device->interfaces[i].class_code == CLASS_HID;
    }
    return count == UVK_LIVE_INTERFACE + 1;
}

static void look_at(GPtrArray *list, const char *where, const struct uvk_usb_device *device)
{
    GError *error = NULL;
    struct uvk_live *live = uvk_live_open(where, device->name, &error);
    struct uvk_live_found *found = g_new0(struct uvk_live_found, 1);

    found->name = g_strdup(device->name);
    found->vendor = device->vendor;
    found->product = device->product;
    found->title = live != NULL && device->title == NULL ? uvk_cable_string(live->cable, 2)
                                                         : g_strdup(device->title);
    found->answers = live != NULL && uvk_live_who(live, &found->facts, &error);
    if (error != NULL) {
        found->why = g_strdup(error->message);
        g_error_free(error);
    }
    uvk_live_close(live);
    g_ptr_array_add(list, found);
}

GPtrArray *uvk_live_list(const char *where, GError **error)
{
    GPtrArray *devices = uvk_usb_devices(where, error);
    GPtrArray *list;

    if (devices == NULL) {
        return NULL;
    }
    list = g_ptr_array_new_with_free_func(free_found);
    for (guint i = 0; i < devices->len; i++) {
        const struct uvk_usb_device *device = devices->pdata[i];
        if (may_have_door(device)) {
            look_at(list, where, device);
        }
    }
    g_ptr_array_unref(devices);
    return list;
}
