/* host.c - decode reports and remember what a person at the host would notice. */
#include "uvrek/host.h"
#include "uvrek/hid.h"

#include <string.h>

#define ROLLOVER 0x01u

struct uvk_host {
    struct uvk_typist *typist;
    struct uvk_hid *interfaces[UVK_HOST_INTERFACES];
    GArray *down[UVK_HOST_INTERFACES]; /* of guint: page << 16 | usage, by interface */
    GString *text;
    GArray *presses;
    GArray *held;
    uint8_t mods;
    int open_mod[8]; /* index into presses of a modifier that is alone so far, or -1 */
    struct uvk_movement pointer, wheel;
    GArray *times;   /* of uint64_t: of each report */
    GArray *notices; /* of struct uvk_notice */
    unsigned reports;
    uint64_t latest;
};

struct uvk_host *uvk_host_new(struct uvk_layout *layout, bool by_number)
{
    struct uvk_host *host = g_new0(struct uvk_host, 1);

    host->typist = uvk_typist_new(layout, by_number);
    host->text = g_string_new(NULL);
    host->presses = g_array_new(FALSE, TRUE, sizeof(struct uvk_press));
    host->held = g_array_new(FALSE, TRUE, sizeof(struct uvk_press));
    host->times = g_array_new(FALSE, TRUE, sizeof(uint64_t));
    host->notices = g_array_new(FALSE, TRUE, sizeof(struct uvk_notice));
    for (unsigned i = 0; i < UVK_HOST_INTERFACES; i++) {
        host->down[i] = g_array_new(FALSE, TRUE, sizeof(guint));
    }
    memset(host->open_mod, -1, sizeof host->open_mod);
    return host;
}

void uvk_host_free(struct uvk_host *host)
{
    if (host == NULL) {
        return;
    }
    uvk_typist_free(host->typist);
    for (unsigned i = 0; i < UVK_HOST_INTERFACES; i++) {
        uvk_hid_free(host->interfaces[i]);
        g_array_free(host->down[i], TRUE);
    }
    g_string_free(host->text, TRUE);
    g_array_free(host->presses, TRUE);
    g_array_free(host->held, TRUE);
    g_array_free(host->times, TRUE);
    g_array_free(host->notices, TRUE);
    g_free(host);
}

bool uvk_host_describe(struct uvk_host *host, unsigned interface, const uint8_t *bytes,
                       size_t size, const char **why)
{
    struct uvk_hid *hid = uvk_hid_parse(bytes, size, why);

    if (hid == NULL || interface >= UVK_HOST_INTERFACES) {
        uvk_hid_free(hid);
        return false;
    }
    uvk_hid_free(host->interfaces[interface]);
    host->interfaces[interface] = hid;
    return true;
}

/* ---- keys go down and come up ----------------------------------------------------- */

static bool is_mod(uint16_t page, uint16_t usage)
{
    return page == UVK_HID_PAGE_KEYBOARD && usage >= UVK_HID_FIRST_MOD &&
           usage <= UVK_HID_LAST_MOD;
}

static void notice(struct uvk_host *host, enum uvk_notice_kind kind, uint16_t page,
                   uint16_t usage, int by)
{
    struct uvk_notice notice = {
        .time = host->latest, .kind = kind, .page = page, .usage = usage, .by = by};

    notice.mods = host->mods;
    g_array_append_val(host->notices, notice);
}

/* A key of the keyboard page: what text comes of it. */
static void type(struct uvk_host *host, uint16_t usage, bool down)
{
    gsize before = host->text->len;

    uvk_typist_key(host->typist, (uint8_t)usage, down, host->text);
    for (const char *at = host->text->str + before; *at != '\0'; at = g_utf8_next_char(at)) {
        struct uvk_notice *seen;
        notice(host, UVK_NOTICE_TEXT, UVK_HID_PAGE_KEYBOARD, usage, 0);
        seen = &g_array_index(host->notices, struct uvk_notice, host->notices->len - 1);
        memcpy(seen->text, at, (size_t)(g_utf8_next_char(at) - at));
    }
}

/* Nothing that is down now stood alone any more. */
static void not_alone(struct uvk_host *host)
{
    for (unsigned bit = 0; bit < 8; bit++) {
        if (host->open_mod[bit] >= 0) {
            g_array_index(host->presses, struct uvk_press, host->open_mod[bit]).alone = false;
        }
    }
}

static void press(struct uvk_host *host, uint16_t page, uint16_t usage)
{
    struct uvk_press press = {host->latest, page, usage, host->mods, false};

    notice(host, UVK_NOTICE_PRESS, page, usage, 0);
    if (is_mod(page, usage)) {
        unsigned bit = usage - UVK_HID_FIRST_MOD;
        press.alone = true;
        not_alone(host); /* of two modifiers at once, the last one speaks for both */
        host->open_mod[bit] = (int)host->presses->len;
        host->mods |= (uint8_t)(1u << bit);
    } else {
        not_alone(host);
        g_array_append_val(host->held, press);
    }
    g_array_append_val(host->presses, press);
    if (page == UVK_HID_PAGE_KEYBOARD) {
        type(host, usage, true);
    }
}

static void release(struct uvk_host *host, uint16_t page, uint16_t usage)
{
    notice(host, UVK_NOTICE_RELEASE, page, usage, 0);
    if (is_mod(page, usage)) {
        host->open_mod[usage - UVK_HID_FIRST_MOD] = -1;
        host->mods &= (uint8_t) ~(1u << (usage - UVK_HID_FIRST_MOD));
    }
    for (guint i = 0; i < host->held->len; i++) {
        const struct uvk_press *held = &g_array_index(host->held, struct uvk_press, i);
        if (held->page == page && held->usage == usage) {
            g_array_remove_index(host->held, i);
            break;
        }
    }
    if (page == UVK_HID_PAGE_KEYBOARD) {
        type(host, usage, false);
    }
}

static void move(struct uvk_host *host, uint16_t page, uint16_t usage, int by)
{
    if (by != 0) {
        notice(host, UVK_NOTICE_MOVE, page, usage, by);
    }
    if (page == UVK_HID_PAGE_CONSUMER && usage == UVK_HID_AC_PAN) {
        host->wheel.x += by;
    } else if (page == UVK_HID_PAGE_DESKTOP && usage == UVK_HID_X) {
        host->pointer.x += by;
    } else if (page == UVK_HID_PAGE_DESKTOP && usage == UVK_HID_Y) {
        host->pointer.y += by;
    } else if (page == UVK_HID_PAGE_DESKTOP && usage == UVK_HID_WHEEL) {
        host->wheel.y += by;
    }
}

/* ---- reports ---------------------------------------------------------------------- */

static int32_t field_value(const struct uvk_hid_field *field, unsigned index,
                           const uint8_t *bytes)
{
    unsigned start = field->offset + index * field->size;
    uint64_t value = 0;

    for (unsigned bit = 0; bit < field->size; bit++) {
        unsigned from = start + bit;
        value |= (uint64_t)(bytes[from / 8] >> (from % 8) & 1u) << bit;
    }
    if (field->logical_min < 0 && field->size > 0 && field->size < 32 &&
        (value >> (field->size - 1) & 1u)) {
        return (int32_t)((int64_t)value - ((int64_t)1 << field->size));
    }
    return (int32_t)value;
}

static bool contains(const GArray *list, guint key)
{
    for (guint i = 0; i < list->len; i++) {
        if (g_array_index(list, guint, i) == key) {
            return true;
        }
    }
    return false;
}

/* What one field says is down, added to NOW. False: ErrorRollOver, nothing is known. */
static bool collect_down(const struct uvk_hid_field *field, const uint8_t *bytes, GArray *now)
{
    for (unsigned i = 0; i < field->count; i++) {
        int32_t value = field_value(field, i, bytes);
        uint16_t usage;
        guint key;
        if (value == 0) {
            continue;
        }
        usage = field->variable ? field->usages[i]
                                : (uint16_t)(field->usage_min + (value - field->logical_min));
        if (!field->variable && field->page == UVK_HID_PAGE_KEYBOARD && usage == ROLLOVER) {
            return false;
        }
        key = (guint)field->page << 16 | usage;
        if (!contains(now, key)) {
            g_array_append_val(now, key);
        }
    }
    return true;
}

/* Can FIELD say whether the usage is down? */
static bool tells(const struct uvk_hid_field *field, uint16_t page, uint16_t usage)
{
    if (page != field->page) {
        return false;
    }
    for (unsigned i = 0; field->variable && i < field->count; i++) {
        if (field->usages[i] == usage) {
            return true;
        }
    }
    return !field->variable && usage >= field->usage_min &&
           usage - field->usage_min <= field->logical_max - field->logical_min;
}

/* Compare what FIELD's report says is down with what was: of one field, releases come
 * before presses; the fields come in the order of the descriptor. */
static void apply_down(struct uvk_host *host, const struct uvk_hid_field *field, GArray *down,
                       const GArray *now)
{
    for (guint i = down->len; i-- > 0;) {
        guint key = g_array_index(down, guint, i);
        uint16_t usage = (uint16_t)(key & 0xFFFF);
        if (tells(field, (uint16_t)(key >> 16), usage) && !contains(now, key)) {
            g_array_remove_index(down, i);
            release(host, field->page, usage);
        }
    }
    for (guint i = 0; i < now->len; i++) {
        guint key = g_array_index(now, guint, i);
        if (!contains(down, key)) {
            g_array_append_val(down, key);
            press(host, field->page, (uint16_t)(key & 0xFFFF));
        }
    }
}

static void apply_field(struct uvk_host *host, const struct uvk_hid_field *field,
                        const uint8_t *bytes, GArray *down)
{
    GArray *now;

    if (field->page >= UVK_HID_PAGE_VENDORS) {
        return; /* it means something to a program of that vendor */
    }
    if (field->relative && field->variable) { /* an array says which, not how far */
        for (unsigned i = 0; i < field->count; i++) {
            move(host, field->page, field->usages[i], field_value(field, i, bytes));
        }
        return;
    }
    now = g_array_new(FALSE, TRUE, sizeof(guint));
    if (collect_down(field, bytes, now)) {
        apply_down(host, field, down, now);
    }
    g_array_free(now, TRUE);
}

bool uvk_host_report(struct uvk_host *host, unsigned interface, const uint8_t *bytes,
                     size_t size, uint64_t now)
{
    const struct uvk_hid *hid =
        interface < UVK_HOST_INTERFACES ? host->interfaces[interface] : NULL;
    uint8_t id = 0;
    bool known = false;

    if (hid == NULL || size == 0) {
        return false;
    }
    if (hid->has_ids) {
        id = *bytes++;
        size--;
    }
    for (guint i = 0; i < hid->fields->len; i++) {
        const struct uvk_hid_field *field =
            &g_array_index(hid->fields, struct uvk_hid_field, i);
        if (field->type != UVK_HID_INPUT || field->report_id != id) {
            continue;
        }
        if (field->offset + field->size * field->count > 8 * size) {
            return false;
        }
        known = true;
        host->latest = now;
        if (!field->constant) {
            apply_field(host, field, bytes, host->down[interface]);
        }
    }
    host->reports += known;
    if (known) {
        g_array_append_val(host->times, now);
    }
    return known;
}

void uvk_host_unplug(struct uvk_host *host, uint64_t now)
{
    host->latest = now;
    for (unsigned i = 0; i < UVK_HOST_INTERFACES; i++) {
        while (host->down[i]->len > 0) {
            guint key = g_array_index(host->down[i], guint, host->down[i]->len - 1);
            g_array_set_size(host->down[i], host->down[i]->len - 1);
            release(host, (uint16_t)(key >> 16), (uint16_t)(key & 0xFFFF));
        }
    }
}

void uvk_host_lock(struct uvk_host *host, enum uvk_lock lock, bool on)
{
    uvk_typist_lock(host->typist, lock, on);
}

uint8_t uvk_host_lamps(const struct uvk_host *host)
{
    return (uint8_t)(uvk_typist_locked(host->typist, UVK_NUM_LOCK) |
                     uvk_typist_locked(host->typist, UVK_CAPS_LOCK) << 1 |
                     uvk_typist_locked(host->typist, UVK_SCROLL_LOCK) << 2);
}

/* ---- what there is to see --------------------------------------------------------- */

char *uvk_host_take_text(struct uvk_host *host)
{
    char *text = g_string_free(host->text, FALSE);

    host->text = g_string_new(NULL);
    return text;
}

GArray *uvk_host_take_presses(struct uvk_host *host)
{
    GArray *presses = g_array_new(FALSE, TRUE, sizeof(struct uvk_press));

    for (guint i = 0; i < host->presses->len; i++) {
        const struct uvk_press *press = &g_array_index(host->presses, struct uvk_press, i);
        if (press->alone || !is_mod(press->page, press->usage)) {
            g_array_append_val(presses, *press);
        }
    }
    g_array_set_size(host->presses, 0);
    memset(host->open_mod, -1, sizeof host->open_mod);
    return presses;
}

uint8_t uvk_host_mods(const struct uvk_host *host)
{
    return host->mods;
}

const GArray *uvk_host_held(const struct uvk_host *host)
{
    return host->held;
}

static struct uvk_movement take(struct uvk_movement *movement)
{
    struct uvk_movement taken = *movement;

    movement->x = 0;
    movement->y = 0;
    return taken;
}

struct uvk_movement uvk_host_take_pointer(struct uvk_host *host)
{
    return take(&host->pointer);
}

struct uvk_movement uvk_host_take_wheel(struct uvk_host *host)
{
    return take(&host->wheel);
}

const GArray *uvk_host_notices(const struct uvk_host *host)
{
    return host->notices;
}

bool uvk_host_report_since(const struct uvk_host *host, uint64_t time, uint64_t *when)
{
    guint first = host->times->len;

    while (first > 0 && g_array_index(host->times, uint64_t, first - 1) >= time) {
        first--;
    }
    if (first == host->times->len) {
        return false;
    }
    *when = g_array_index(host->times, uint64_t, first);
    return true;
}

unsigned uvk_host_reports(const struct uvk_host *host, uint64_t *latest)
{
    if (latest != NULL) {
        *latest = host->latest;
    }
    return host->reports;
}
