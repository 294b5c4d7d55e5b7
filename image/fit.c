/* fit.c - lay an image out in the places of another one. Desk side. */
#include "uvrek/fit.h"

#include "layout.h"

#include <glib.h>
#include <string.h>

/* A row, or a run of rows, of the wanted image, and its place in the built-in one's tables. */
struct item {
    uint16_t from, length; /* rows of the wanted table */
    uint16_t to;           /* row of the new table */
    bool placed;
};

struct fitting {
    const struct uvk_image *built, *wanted;
    GByteArray *tables[UVK_TABLES]; /* as they will be */
    GArray *items[UVK_TABLES];      /* of struct item; of tables that are referred to */
    GByteArray *taken[UVK_TABLES];  /* for each row of the built-in table: it is needed */
};

/* ---- what there is ----------------------------------------------------------------------- */

/* Rows of the run that begins at ROW: a text, a macro; else a row is by itself. */
static uint16_t run_length(const struct uvk_image *image, unsigned table, uint16_t row)
{
    unsigned length = 0;
    uint8_t byte;

    if (table == UVK_TABLE_STEPS) {
        while (uvk_image_step(image, (uint16_t)(row + length++)).op != UVK_OP_END) {
        }
        return (uint16_t)length;
    }
    if (table != UVK_TABLE_TEXTS) {
        return 1;
    }
    do {
        byte = uvk_image_text(image, (uint16_t)(row + length));
        length += byte == UVK_TEXT_MODS ? 3u : byte == UVK_TEXT_KEEP ? 2u : 1u;
    } while (byte != UVK_TEXT_END);
    return (uint16_t)length;
}

static GArray *list_items(const struct uvk_image *image, unsigned table)
{
    GArray *items = g_array_new(FALSE, TRUE, sizeof(struct item));

    for (unsigned row = 0; row < image->rows[table];) {
        struct item item = {(uint16_t)row, run_length(image, table, (uint16_t)row), 0, false};
        g_array_append_val(items, item);
        row += item.length;
    }
    return items;
}

/* Tables whose rows others refer to, and the word that stands for a row of each. */
static const uint8_t referred[] = {UVK_TABLE_FEELS, UVK_TABLE_CHORDS, UVK_TABLE_TEXTS,
                                   UVK_TABLE_STEPS, UVK_TABLE_HOLDS,  UVK_TABLE_DANCES};

static uvk_action word_for(unsigned table, uint16_t row)
{
    switch (table) {
    case UVK_TABLE_CHORDS:
        return UVK_MAKE(UVK_CHORD, row);
    case UVK_TABLE_HOLDS:
        return UVK_MAKE(UVK_HOLD, row);
    case UVK_TABLE_DANCES:
        return UVK_MAKE(UVK_HOLD, UVK_DANCE | row);
    default:
        return UVK_MAKE(UVK_MACRO, row);
    }
}

/* Does row A of the wanted TABLE mean what row B of the built-in one does? */
static bool same_item(const struct fitting *fitting, unsigned table, uint16_t a, uint16_t b)
{
    if (table == UVK_TABLE_FEELS) {
        struct uvk_feel one;
        struct uvk_feel other;
        uvk_image_feel(fitting->wanted, (uint8_t)a, &one);
        uvk_image_feel(fitting->built, (uint8_t)b, &other);
        return uvk_same_feel(&one, &other);
    }
    if (table == UVK_TABLE_TEXTS) {
        uint16_t length = run_length(fitting->wanted, table, a);
        return length == run_length(fitting->built, table, b) &&
               memcmp(fitting->wanted->bytes + fitting->wanted->table[table] + a,
                      fitting->built->bytes + fitting->built->table[table] + b, length) == 0;
    }
    return uvk_same_action(fitting->wanted, word_for(table, a), fitting->built,
                           word_for(table, b));
}

/* ---- places ------------------------------------------------------------------------------ */

static void take(struct fitting *fitting, unsigned table, struct item *item, unsigned to)
{
    item->to = (uint16_t)to;
    item->placed = true;
    for (unsigned i = 0; i < item->length && to + i < fitting->taken[table]->len; i++) {
        fitting->taken[table]->data[to + i] = 1;
    }
}

/* What both have stays where it is; of several such places, the one with the same number. */
static void place_same(struct fitting *fitting, unsigned table, const GArray *built)
{
    GArray *items = fitting->items[table];

    for (guint i = 0; i < items->len; i++) {
        struct item *item = &g_array_index(items, struct item, i);
        for (guint n = 0; n < built->len && !item->placed; n++) {
            guint at = (i + n) % built->len;
            const struct item *place = &g_array_index(built, struct item, at);
            if (place->length == item->length &&
                same_item(fitting, table, item->from, place->from)) {
                take(fitting, table, item, place->from);
            }
        }
    }
}

/* What is new takes a place of the same length that nothing needs: beginnings stay beginnings,
 * for whatever is left over and refers to them. Or it goes behind the last row. */
static void place_new(struct fitting *fitting, unsigned table, const GArray *built)
{
    GArray *items = fitting->items[table];
    GByteArray *rows = fitting->tables[table];

    for (guint i = 0; i < items->len; i++) {
        struct item *item = &g_array_index(items, struct item, i);
        for (guint n = 0; n < built->len && !item->placed; n++) {
            const struct item *place = &g_array_index(built, struct item, (i + n) % built->len);
            if (place->length == item->length &&
                fitting->taken[table]->data[place->from] == 0) {
                take(fitting, table, item, place->from);
            }
        }
        if (!item->placed) {
            guint end = rows->len;
            g_byte_array_set_size(rows, end + item->length * uvk_row_size[table]);
            take(fitting, table, item, end / uvk_row_size[table]);
        }
    }
}

/* Of the feels the first one is everybody's. */
static void place_first_feel(struct fitting *fitting)
{
    GArray *items = fitting->items[UVK_TABLE_FEELS];

    if (items->len > 0 && fitting->built->rows[UVK_TABLE_FEELS] > 0) {
        take(fitting, UVK_TABLE_FEELS, &g_array_index(items, struct item, 0), 0);
    }
}

static void place_all(struct fitting *fitting)
{
    place_first_feel(fitting);
    for (size_t i = 0; i < G_N_ELEMENTS(referred); i++) {
        GArray *built = list_items(fitting->built, referred[i]);
        place_same(fitting, referred[i], built);
        place_new(fitting, referred[i], built);
        g_array_free(built, TRUE);
    }
}

/* ---- rows, with the new numbers of what they refer to ----------------------------------- */

static uint16_t new_row(const struct fitting *fitting, unsigned table, uint16_t row)
{
    const GArray *items = fitting->items[table];

    for (guint i = 0; i < items->len; i++) {
        const struct item *item = &g_array_index(items, struct item, i);
        if (row >= item->from && row < item->from + item->length) {
            return (uint16_t)(item->to + row - item->from);
        }
    }
    return row;
}

static uvk_action new_word(const struct fitting *fitting, uvk_action word)
{
    unsigned table = UVK_TABLE_STEPS;
    uint16_t row = uvk_action_value(word);

    if (word == UVK_SEE_THROUGH) {
        return word;
    }
    switch (uvk_action_kind(word)) {
    case UVK_CHORD:
        table = UVK_TABLE_CHORDS;
        break;
    case UVK_HOLD:
        table = uvk_action_is_dance(word) ? UVK_TABLE_DANCES : UVK_TABLE_HOLDS;
        row = uvk_action_row(word);
        break;
    case UVK_MACRO:
        break;
    default:
        return word;
    }
    return word_for(table, new_row(fitting, table, row));
}

static void put16(uint8_t *at, unsigned value)
{
    at[0] = (uint8_t)value;
    at[1] = (uint8_t)(value >> 8);
}

/* Where ROW of the new TABLE stands; it is there, or becomes so. */
static uint8_t *row_at(struct fitting *fitting, unsigned table, unsigned row)
{
    GByteArray *rows = fitting->tables[table];
    guint end = (row + 1) * uvk_row_size[table];

    if (rows->len < end) {
        g_byte_array_set_size(rows, end);
    }
    return rows->data + (size_t)row * uvk_row_size[table];
}

/* BYTES of WANTED are among those of TABLE, or become so: at which byte. Best where they were
 * before, AT, so that what is the same stays the same; STEP: bytes of a row. */
static guint put_bytes(GByteArray *table, guint at, const uint8_t *wanted, guint bytes,
                       guint step)
{
    guint end = table->len;

    if (at + bytes <= end && memcmp(table->data + at, wanted, bytes) == 0) {
        return at;
    }
    for (at = 0; at + bytes <= end; at += step) {
        if (memcmp(table->data + at, wanted, bytes) == 0) {
            return at;
        }
    }
    g_byte_array_append(table, wanted, bytes);
    return end;
}

/* The parts from FIRST on, COUNT of them: where they are in the new table. */
static uint16_t put_parts(struct fitting *fitting, uint16_t first, unsigned count)
{
    const struct uvk_image *wanted = fitting->wanted;

    return (uint16_t)put_bytes(fitting->tables[UVK_TABLE_PARTS], first,
                               wanted->bytes + wanted->table[UVK_TABLE_PARTS] + first, count,
                               1);
}

/* The lines of a dance, likewise. */
static uint16_t put_lines(struct fitting *fitting, const struct uvk_dance *dance)
{
    guint bytes = 4u * dance->taps;
    uint8_t *wanted = g_malloc(bytes + 1);
    guint at;

    for (unsigned i = 0; i < 2u * dance->taps; i++) {
        put16(wanted + 2 * (size_t)i,
              new_word(fitting, uvk_image_line(fitting->wanted, (uint16_t)(dance->first + i))));
    }
    at = put_bytes(fitting->tables[UVK_TABLE_LINES], 2u * dance->first, wanted, bytes, 2);
    g_free(wanted);
    return (uint16_t)(at / 2);
}

static void put_item(struct fitting *fitting, unsigned table, uint16_t from, uint16_t to)
{
    const struct uvk_image *wanted = fitting->wanted;
    uint8_t *at = row_at(fitting, table, to);
    struct uvk_macro_step step;
    struct uvk_dance dance;
    struct uvk_tap_hold both;

    memcpy(at, wanted->bytes + wanted->table[table] + (size_t)from * uvk_row_size[table],
           uvk_row_size[table]);
    switch (table) {
    case UVK_TABLE_STEPS:
        step = uvk_image_step(wanted, from);
        if (step.op == UVK_OP_PRESS || step.op == UVK_OP_RELEASE) {
            put16(at + 1, new_word(fitting, step.operand));
        } else if (step.op == UVK_OP_TYPE) {
            put16(at + 1, new_row(fitting, UVK_TABLE_TEXTS, step.operand));
        } else if (step.op == UVK_OP_RELEASE_PART) {
            put16(at + 1, new_row(fitting, UVK_TABLE_STEPS, step.operand));
        }
        break;
    case UVK_TABLE_HOLDS:
        uvk_image_hold(wanted, from, &both);
        put16(at, new_word(fitting, both.tap));
        put16(at + 2, new_word(fitting, both.held));
        at[4] = (uint8_t)new_row(fitting, UVK_TABLE_FEELS, both.feel);
        break;
    case UVK_TABLE_DANCES:
        uvk_image_dance(wanted, from, &dance);
        put16(at + 2, put_lines(fitting, &dance));
        break;
    default:
        break;
    }
}

static void put_items(struct fitting *fitting)
{
    for (size_t i = 0; i < G_N_ELEMENTS(referred); i++) {
        const GArray *items = fitting->items[referred[i]];
        for (guint n = 0; n < items->len; n++) {
            const struct item *item = &g_array_index(items, struct item, n);
            for (unsigned row = 0; row < item->length; row++) {
                put_item(fitting, referred[i], (uint16_t)(item->from + row),
                         (uint16_t)(item->to + row));
            }
        }
    }
}

/* Tables in which every row counts: all of them as they are wanted. */
static void put_whole(struct fitting *fitting, unsigned table)
{
    const struct uvk_image *wanted = fitting->wanted;

    g_byte_array_set_size(fitting->tables[table], 0);
    g_byte_array_append(fitting->tables[table], wanted->bytes + wanted->table[table],
                        (guint)wanted->rows[table] * uvk_row_size[table]);
}

static void put_cells(struct fitting *fitting)
{
    GByteArray *cells = fitting->tables[UVK_TABLE_CELLS];

    put_whole(fitting, UVK_TABLE_CELLS);
    for (guint at = 0; at < cells->len; at += 2) {
        put16(cells->data + at,
              new_word(fitting, (uvk_action)(cells->data[at] | cells->data[at + 1] << 8)));
    }
}

static void put_combos(struct fitting *fitting)
{
    put_whole(fitting, UVK_TABLE_COMBOS);
    for (unsigned row = 0; row < fitting->wanted->rows[UVK_TABLE_COMBOS]; row++) {
        struct uvk_combo combo;
        unsigned layers;
        uint16_t first;
        uint8_t *at;
        uvk_image_combo(fitting->wanted, (uint8_t)row, &combo);
        layers = uvk_image_part(fitting->wanted, (uint16_t)(combo.first + combo.keys));
        first = put_parts(fitting, combo.first, combo.keys + 1u + layers);
        at = row_at(fitting, UVK_TABLE_COMBOS, row);
        put16(at, new_word(fitting, combo.action));
        put16(at + 6, first);
    }
}

static void put_sequences(struct fitting *fitting)
{
    put_whole(fitting, UVK_TABLE_SEQUENCES);
    for (unsigned row = 0; row < fitting->wanted->rows[UVK_TABLE_SEQUENCES]; row++) {
        struct uvk_sequence sequence;
        uint16_t first;
        uint8_t *at;
        uvk_image_sequence(fitting->wanted, (uint16_t)row, &sequence);
        first = put_parts(fitting, sequence.first, sequence.keys);
        at = row_at(fitting, UVK_TABLE_SEQUENCES, row);
        put16(at, new_word(fitting, sequence.action));
        put16(at + 2, first);
    }
}

/* ---- the whole --------------------------------------------------------------------------- */

static struct fitting begin(const struct uvk_image *built, const struct uvk_image *wanted)
{
    struct fitting fitting = {.built = built, .wanted = wanted};

    for (unsigned table = 0; table < UVK_TABLES; table++) {
        guint bytes = (guint)built->rows[table] * uvk_row_size[table];
        fitting.tables[table] = g_byte_array_new();
        g_byte_array_append(fitting.tables[table], built->bytes + built->table[table], bytes);
        fitting.items[table] = list_items(wanted, table);
        fitting.taken[table] = g_byte_array_new();
        g_byte_array_set_size(fitting.taken[table], built->rows[table]);
        if (built->rows[table] > 0) {
            memset(fitting.taken[table]->data, 0, built->rows[table]);
        }
    }
    return fitting;
}

static void end(struct fitting *fitting)
{
    for (unsigned table = 0; table < UVK_TABLES; table++) {
        g_byte_array_free(fitting->tables[table], TRUE);
        g_array_free(fitting->items[table], TRUE);
        g_byte_array_free(fitting->taken[table], TRUE);
    }
}

/* All tables where they go: in their old places, or behind the end. */
static GByteArray *lay_out(const struct fitting *fitting)
{
    const struct uvk_image *built = fitting->built;
    GByteArray *out = g_byte_array_new();

    g_byte_array_append(out, built->bytes, get16(built->bytes + AT_LENGTH));
    for (unsigned table = 0; table < UVK_TABLES; table++) {
        const GByteArray *rows = fitting->tables[table];
        guint old = (guint)built->rows[table] * uvk_row_size[table];
        guint at = built->table[table];
        uint8_t *entry;
        if (rows->len > old) {
            at = out->len;
            g_byte_array_append(out, rows->data, rows->len);
        } else if (rows->len > 0) {
            memcpy(out->data + at, rows->data, rows->len);
        }
        entry = out->data + HEADER_SIZE + table * ENTRY_SIZE;
        put16(entry + ENTRY_COUNT, rows->len / uvk_row_size[table]);
        put16(entry + ENTRY_OFFSET, at);
    }
    return out;
}

/* Words that differ, then what is behind. False: it does not fit LIMIT. */
static bool compare(const struct uvk_image *built, const GByteArray *image, unsigned limit,
                    struct uvk_changes *changes, unsigned *needed)
{
    uint16_t size = get16(built->bytes + AT_LENGTH);
    unsigned behind = image->len - size;
    uint8_t *at = changes->room;

    uvk_changes_clear(changes, built->bytes);
    *needed = behind;
    for (unsigned word = HEADER_SIZE; word < size; word += 2) {
        unsigned bytes = MIN(2u, size - word);
        if (memcmp(built->bytes + word, image->data + word, bytes) == 0) {
            continue;
        }
        *needed += UVK_CHANGED_WORD;
        if (*needed <= limit) {
            put16(at, word);
            at[2] = image->data[word];
            at[3] = bytes > 1 ? image->data[word + 1] : 0;
            at += UVK_CHANGED_WORD;
            changes->words++;
        }
    }
    if (*needed > limit || image->len > UVK_IMAGE_MAX) {
        return false;
    }
    memcpy(at, image->data + size, behind);
    changes->size = (uint16_t)image->len;
    if (*needed > 0) {
        changes->sum = ~uvk_crc32(UVK_CRC_START, image->data + HEADER_SIZE,
                                  (uint16_t)(image->len - HEADER_SIZE));
    }
    return true;
}

static bool same_bytes(const struct uvk_image *a, const struct uvk_image *b, unsigned table)
{
    return a->rows[table] == b->rows[table] &&
           (a->rows[table] == 0 ||
            memcmp(a->bytes + a->table[table], b->bytes + b->table[table],
                   (size_t)a->rows[table] * uvk_row_size[table]) == 0);
}

/* What belongs to the board is compiled into the firmware. */
static enum uvk_fit same_frame(const struct uvk_image *built, const struct uvk_image *wanted)
{
    if (built->keys != wanted->keys || built->lines != wanted->lines ||
        built->senses != wanted->senses || built->second != wanted->second ||
        !same_bytes(built, wanted, UVK_TABLE_SWITCHES) ||
        !same_bytes(built, wanted, UVK_TABLE_KNOBS) ||
        !same_bytes(built, wanted, UVK_TABLE_HANDS) ||
        !same_bytes(built, wanted, UVK_TABLE_LAMPS) ||
        !same_bytes(built, wanted, UVK_TABLE_STRIP) ||
        built->rows[UVK_TABLE_LIGHT] != wanted->rows[UVK_TABLE_LIGHT]) {
        return UVK_FIT_BOARD;
    }
    if (built->layers != wanted->layers) {
        return UVK_FIT_LAYERS;
    }
    return uvk_image_room(built) == uvk_image_room(wanted) ? UVK_FITS : UVK_FIT_ROOM;
}

enum uvk_fit uvk_image_fit(const struct uvk_image *built, const struct uvk_image *wanted,
                           struct uvk_changes *changes, unsigned *needed)
{
    enum uvk_fit fit = same_frame(built, wanted);
    struct fitting fitting;
    GByteArray *image;

    *needed = 0;
    if (fit != UVK_FITS) {
        return fit;
    }
    fitting = begin(built, wanted);
    place_all(&fitting);
    put_items(&fitting);
    put_whole(&fitting, UVK_TABLE_SETTINGS);
    put_whole(&fitting, UVK_TABLE_WHENS);
    put_whole(&fitting, UVK_TABLE_LIGHT);
    put_whole(&fitting, UVK_TABLE_COLOURS);
    put_cells(&fitting);
    put_combos(&fitting);
    put_sequences(&fitting);
    image = lay_out(&fitting);
    if (!compare(built, image, uvk_image_room(built), changes, needed)) {
        fit = UVK_FIT_TOO_LARGE;
    }
    g_byte_array_free(image, TRUE);
    end(&fitting);
    return fit;
}
