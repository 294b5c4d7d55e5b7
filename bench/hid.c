/* hid.c - parse HID report descriptors (HID 1.11, section 6.2.2). */
#include "uvrek/host.h"

#include <string.h>

#define FIELDS_MAX 256u
#define USAGES_MAX 4096u
#define DEPTH_MAX  16u

/* Item types and tags, section 6.2.2.4 to 6.2.2.8: type << 4 | tag. */
enum {
    MAIN_INPUT = 0x08,
    MAIN_OUTPUT = 0x09,
    MAIN_COLLECTION = 0x0A,
    MAIN_FEATURE = 0x0B,
    MAIN_END = 0x0C,
    GLOBAL_PAGE = 0x10,
    GLOBAL_LOGICAL_MIN = 0x11,
    GLOBAL_LOGICAL_MAX = 0x12,
    GLOBAL_SIZE = 0x17,
    GLOBAL_ID = 0x18,
    GLOBAL_COUNT = 0x19,
    LOCAL_USAGE = 0x20,
    LOCAL_MIN = 0x21,
    LOCAL_MAX = 0x22
};

struct parse {
    struct uvk_hid *hid;
    const char *why;
    /* global items */
    uint16_t page;
    int32_t logical_min, logical_max;
    unsigned size, count;
    uint8_t id;
    /* local items */
    uint16_t usages[USAGES_MAX];
    unsigned usage_count;
    uint16_t usage_min;
    bool has_range;
    /* collections */
    unsigned depth;
    uint16_t application_page, application;
    /* bits used so far, by type and report id */
    unsigned used[3][256];
};

static void fail(struct parse *parse, const char *why)
{
    if (parse->why == NULL) {
        parse->why = why;
    }
}

/* The usage of element INDEX: the list's, its last one repeated (section 6.2.2.8). */
static uint16_t usage_at(const struct parse *parse, unsigned index)
{
    if (parse->usage_count == 0) {
        return 0;
    }
    return parse->usages[MIN(index, parse->usage_count - 1)];
}

static void add_field(struct parse *parse, enum uvk_hid_type type, uint32_t flags)
{
    struct uvk_hid_field field = {
        .type = type,
        .report_id = parse->id,
        .page = parse->page,
        .application_page = parse->application_page,
        .application = parse->application,
        .usage_min = parse->usage_count > 0 ? parse->usages[0] : 0,
        .logical_min = parse->logical_min,
        .logical_max = parse->logical_max,
        .size = parse->size,
        .count = parse->count,
        .offset = parse->used[type][parse->id],
        .constant = flags & 1u,
        .variable = flags & 2u,
        .relative = flags & 4u,
    };

    if (parse->size > 32 || parse->count > USAGES_MAX ||
        parse->hid->fields->len >= FIELDS_MAX) {
        fail(parse, "a field is too large");
        return;
    }
    if (parse->depth == 0) {
        fail(parse, "a field outside every collection");
        return;
    }
    if (field.variable && !field.constant) {
        uint16_t *usages = g_new0(uint16_t, parse->count + 1u);
        for (unsigned i = 0; i < parse->count; i++) {
            usages[i] = usage_at(parse, i);
        }
        g_ptr_array_add(parse->hid->kept, usages);
        field.usages = usages;
    }
    parse->used[type][parse->id] += parse->size * parse->count;
    g_array_append_val(parse->hid->fields, field);
}

static void add_range(struct parse *parse, uint16_t last)
{
    for (unsigned usage = parse->usage_min; usage <= last && parse->usage_count < USAGES_MAX;
         usage++) {
        parse->usages[parse->usage_count++] = (uint16_t)usage;
    }
}

static void begin_collection(struct parse *parse, uint32_t kind)
{
    if (++parse->depth > DEPTH_MAX) {
        fail(parse, "collections are nested too deep");
    }
    if (kind == 1) {
        parse->application_page = parse->page;
        parse->application = usage_at(parse, 0);
    }
}

static void main_item(struct parse *parse, unsigned tag, uint32_t value)
{
    switch (tag) {
    case MAIN_INPUT:
        add_field(parse, UVK_HID_INPUT, value);
        break;
    case MAIN_OUTPUT:
        add_field(parse, UVK_HID_OUTPUT, value);
        break;
    case MAIN_FEATURE:
        add_field(parse, UVK_HID_FEATURE, value);
        break;
    case MAIN_COLLECTION:
        begin_collection(parse, value);
        break;
    case MAIN_END:
        if (parse->depth-- == 0) {
            parse->depth = 0;
            fail(parse, "a collection ends that never began");
        }
        break;
    default:
        fail(parse, "an unknown main item");
        break;
    }
    parse->usage_count = 0;
    parse->usage_min = 0;
}

static void other_item(struct parse *parse, unsigned tag, uint32_t value, int32_t signed_value)
{
    switch (tag) {
    case GLOBAL_PAGE:
        parse->page = (uint16_t)value;
        break;
    case GLOBAL_LOGICAL_MIN:
        parse->logical_min = signed_value;
        break;
    case GLOBAL_LOGICAL_MAX:
        parse->logical_max = signed_value;
        break;
    case GLOBAL_SIZE:
        parse->size = value;
        break;
    case GLOBAL_COUNT:
        parse->count = value;
        break;
    case GLOBAL_ID:
        parse->id = (uint8_t)value;
        parse->hid->has_ids = true;
        if (value == 0 || value > 255) {
            fail(parse, "a report id out of range");
        }
        break;
    case LOCAL_USAGE:
        if (parse->usage_count < USAGES_MAX) {
            parse->usages[parse->usage_count++] = (uint16_t)value;
        }
        break;
    case LOCAL_MIN:
        parse->usage_min = (uint16_t)value;
        break;
    case LOCAL_MAX:
        add_range(parse, (uint16_t)value);
        break;
    default:
        break; /* units, strings and the like do not change a report's shape */
    }
}

static int32_t sign_extend(uint32_t value, size_t bytes)
{
    unsigned shift = 32u - 8u * (unsigned)bytes;

    return bytes == 0 ? 0 : (int32_t)(value << shift) >> shift;
}

static void parse_items(struct parse *parse, const uint8_t *bytes, size_t size)
{
    static const size_t sizes[] = {0, 1, 2, 4};
    size_t at = 0;

    while (at < size && parse->why == NULL) {
        uint8_t prefix = bytes[at++];
        size_t length = sizes[prefix & 3u];
        unsigned tag = (unsigned)((prefix & 0x0Cu) << 2) | prefix >> 4;
        uint32_t value = 0;
        if (length > size - at) {
            fail(parse, "the last item is cut");
            return;
        }
        for (size_t i = 0; i < length; i++) {
            value |= (uint32_t)bytes[at + i] << (8 * i);
        }
        at += length;
        if ((prefix & 0x0Cu) == 0) {
            main_item(parse, tag, value);
        } else {
            other_item(parse, tag, value, sign_extend(value, length));
        }
    }
}

struct uvk_hid *uvk_hid_parse(const uint8_t *bytes, size_t size, const char **why)
{
    struct uvk_hid *hid = g_new0(struct uvk_hid, 1);
    struct parse *parse = g_new0(struct parse, 1);

    hid->fields = g_array_new(FALSE, TRUE, sizeof(struct uvk_hid_field));
    hid->kept = g_ptr_array_new_with_free_func(g_free);
    parse->hid = hid;
    parse_items(parse, bytes, size);
    if (parse->depth != 0) {
        fail(parse, "a collection never ends");
    }
    if (hid->fields->len == 0) {
        fail(parse, "it describes no report");
    }
    *why = parse->why;
    if (parse->why != NULL) {
        g_clear_pointer(&hid, uvk_hid_free);
    }
    g_free(parse);
    return hid;
}

void uvk_hid_free(struct uvk_hid *hid)
{
    if (hid != NULL) {
        g_array_free(hid->fields, TRUE);
        g_ptr_array_free(hid->kept, TRUE);
        g_free(hid);
    }
}
