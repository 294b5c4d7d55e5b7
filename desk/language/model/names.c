/* names.c - the keys that have names: HID Usage Tables 1.3, sections 4, 10 and 12; the consumer
 * page is in media_names.c. */
#include "reading.h"

#include "uvrek/hid.h"

#define KEY(name, usage)                                                                       \
    {                                                                                          \
        name, 0, UVK_HID_PAGE_KEYBOARD, usage, 0                                               \
    }
#define MOD(name, bits)                                                                        \
    {                                                                                          \
        name, bits, UVK_HID_PAGE_KEYBOARD, 0, 0                                                \
    }
#define SYSTEM(name, usage)                                                                    \
    {                                                                                          \
        name, 0, 0x01, usage, 0                                                                \
    }
#define CLICK(name, usage)                                                                     \
    {                                                                                          \
        name, 0, 0x09, usage, 0                                                                \
    }

/* The first name of a usage is the one that is shown. */
static const struct uvk_key_name names[] = {
    KEY("a", 0x04),
    KEY("b", 0x05),
    KEY("c", 0x06),
    KEY("d", 0x07),
    KEY("e", 0x08),
    KEY("f", 0x09),
    KEY("g", 0x0A),
    KEY("h", 0x0B),
    KEY("i", 0x0C),
    KEY("j", 0x0D),
    KEY("k", 0x0E),
    KEY("l", 0x0F),
    KEY("m", 0x10),
    KEY("n", 0x11),
    KEY("o", 0x12),
    KEY("p", 0x13),
    KEY("q", 0x14),
    KEY("r", 0x15),
    KEY("s", 0x16),
    KEY("t", 0x17),
    KEY("u", 0x18),
    KEY("v", 0x19),
    KEY("w", 0x1A),
    KEY("x", 0x1B),
    KEY("y", 0x1C),
    KEY("z", 0x1D),
    KEY("1", 0x1E),
    KEY("2", 0x1F),
    KEY("3", 0x20),
    KEY("4", 0x21),
    KEY("5", 0x22),
    KEY("6", 0x23),
    KEY("7", 0x24),
    KEY("8", 0x25),
    KEY("9", 0x26),
    KEY("0", 0x27),
    KEY("enter", 0x28),
    KEY("esc", 0x29),
    KEY("escape", 0x29),
    KEY("backspace", 0x2A),
    KEY("tab", 0x2B),
    KEY("space", 0x2C),
    KEY("minus", 0x2D),
    KEY("equal", 0x2E),
    KEY("left-bracket", 0x2F),
    KEY("right-bracket", 0x30),
    KEY("backslash", 0x31),
    KEY("non-us-hash", 0x32),
    KEY("semicolon", 0x33),
    KEY("quote", 0x34),
    KEY("grave", 0x35),
    KEY("comma", 0x36),
    KEY("dot", 0x37),
    KEY("period", 0x37),
    KEY("slash", 0x38),
    KEY("caps-lock", 0x39),
    KEY("f1", 0x3A),
    KEY("f2", 0x3B),
    KEY("f3", 0x3C),
    KEY("f4", 0x3D),
    KEY("f5", 0x3E),
    KEY("f6", 0x3F),
    KEY("f7", 0x40),
    KEY("f8", 0x41),
    KEY("f9", 0x42),
    KEY("f10", 0x43),
    KEY("f11", 0x44),
    KEY("f12", 0x45),
    KEY("print-screen", 0x46),
    KEY("scroll-lock", 0x47),
    KEY("pause", 0x48),
    KEY("insert", 0x49),
    KEY("home", 0x4A),
    KEY("page-up", 0x4B),
    KEY("delete", 0x4C),
    KEY("end", 0x4D),
    KEY("page-down", 0x4E),
    KEY("right", 0x4F),
    KEY("left", 0x50),
    KEY("down", 0x51),
    KEY("up", 0x52),
    KEY("num-lock", 0x53),
    KEY("pad-slash", 0x54),
    KEY("pad-star", 0x55),
    KEY("pad-minus", 0x56),
    KEY("pad-plus", 0x57),
    KEY("pad-enter", 0x58),
    KEY("pad-1", 0x59),
    KEY("pad-2", 0x5A),
    KEY("pad-3", 0x5B),
    KEY("pad-4", 0x5C),
    KEY("pad-5", 0x5D),
    KEY("pad-6", 0x5E),
    KEY("pad-7", 0x5F),
    KEY("pad-8", 0x60),
    KEY("pad-9", 0x61),
    KEY("pad-0", 0x62),
    KEY("pad-dot", 0x63),
    KEY("non-us-backslash", 0x64),
    KEY("menu", 0x65),
    KEY("pad-equal", 0x67),
    KEY("f13", 0x68),
    KEY("f14", 0x69),
    KEY("f15", 0x6A),
    KEY("f16", 0x6B),
    KEY("f17", 0x6C),
    KEY("f18", 0x6D),
    KEY("f19", 0x6E),
    KEY("f20", 0x6F),
    KEY("f21", 0x70),
    KEY("f22", 0x71),
    KEY("f23", 0x72),
    KEY("f24", 0x73),
    KEY("international-1", 0x87),
    KEY("international-2", 0x88),
    KEY("international-3", 0x89),
    KEY("international-4", 0x8A),
    KEY("international-5", 0x8B),
    KEY("international-6", 0x8C),
    KEY("international-7", 0x8D),
    KEY("international-8", 0x8E),
    KEY("international-9", 0x8F),
    KEY("language-1", 0x90),
    KEY("language-2", 0x91),
    KEY("language-3", 0x92),
    KEY("language-4", 0x93),
    KEY("language-5", 0x94),
    KEY("language-6", 0x95),
    KEY("language-7", 0x96),
    KEY("language-8", 0x97),
    KEY("language-9", 0x98),
    MOD("ctrl", 0x01),
    MOD("shift", 0x02),
    MOD("alt", 0x04),
    MOD("gui", 0x08),
    MOD("right-ctrl", 0x10),
    MOD("right-shift", 0x20),
    MOD("right-alt", 0x40),
    MOD("altgr", 0x40),
    MOD("right-gui", 0x80),
    SYSTEM("power-off", 0x81),
    SYSTEM("sleep", 0x82),
    SYSTEM("wake", 0x83),
    SYSTEM("mute-microphone", 0xA9),
    CLICK("click-left", 1),
    CLICK("click-right", 2),
    CLICK("click-middle", 3),
    CLICK("click-back", 4),
    CLICK("click-forward", 5),
    {"wheel-up", 0, UVK_HID_PAGE_DESKTOP, UVK_HID_WHEEL, 1},
    {"wheel-down", 0, UVK_HID_PAGE_DESKTOP, UVK_HID_WHEEL, -1},
    {"wheel-left", 0, UVK_HID_PAGE_CONSUMER, UVK_HID_AC_PAN, -1},
    {"wheel-right", 0, UVK_HID_PAGE_CONSUMER, UVK_HID_AC_PAN, 1},
    {"point-left", 0, 0x01, 0x30, -1},
    {"point-right", 0, 0x01, 0x30, 1},
    {"point-up", 0, 0x01, 0x31, -1},
    {"point-down", 0, 0x01, 0x31, 1},
    {"pace-slow", 0, UVK_PAGE_OWN, UVK_OWN_PACE_SLOW, 0},
    {"pace-fast", 0, UVK_PAGE_OWN, UVK_OWN_PACE_FAST, 0},
    {"leader", 0, UVK_PAGE_OWN, UVK_OWN_LEADER, 0},
};

/* All tables, one behind the other; made once, kept for good. */
static const GArray *all_names(void)
{
    static GArray *all;
    static gsize made;

    if (g_once_init_enter(&made)) {
        size_t count;
        const struct uvk_key_name *media = media_names(&count);
        all = g_array_new(FALSE, FALSE, sizeof(struct uvk_key_name));
        g_array_append_vals(all, names, G_N_ELEMENTS(names));
        g_array_append_vals(all, media, (guint)count);
        g_once_init_leave(&made, 1);
    }
    return all;
}

const struct uvk_key_name *uvk_key_names(size_t *count)
{
    const GArray *all = all_names();

    *count = all->len;
    return (const struct uvk_key_name *)(const void *)all->data;
}

const struct uvk_key_name *uvk_key_named(const char *name)
{
    static GHashTable *index; /* made once, kept for good */
    static gsize made;

    if (g_once_init_enter(&made)) {
        size_t count;
        const struct uvk_key_name *all = uvk_key_names(&count);
        index = g_hash_table_new(g_str_hash, g_str_equal);
        for (size_t i = 0; i < count; i++) {
            g_hash_table_insert(index, (gpointer)all[i].name, (gpointer)&all[i]);
        }
        g_once_init_leave(&made, 1);
    }
    return g_hash_table_lookup(index, name);
}
