/* writer.c - lay an image out. */
#include "uvrek/image_write.h"

#include "layout.h"

#include <string.h>

static void put16(uint8_t *at, unsigned value)
{
    at[0] = (uint8_t)(value & 0xFFu);
    at[1] = (uint8_t)(value >> 8 & 0xFFu);
}

static void put32(uint8_t *at, uint32_t value)
{
    put16(at, value & 0xFFFFu);
    put16(at + 2, value >> 16);
}

static void row_counts(const struct uvk_image_plan *plan, size_t counts[UVK_TABLES])
{
    counts[UVK_TABLE_SWITCHES] = (size_t)plan->lines * plan->senses;
    counts[UVK_TABLE_SETTINGS] = UVK_SETTINGS;
    counts[UVK_TABLE_CELLS] = (size_t)plan->layers * plan->keys;
    counts[UVK_TABLE_CHORDS] = plan->chord_count;
    counts[UVK_TABLE_HOLDS] = plan->hold_count;
    counts[UVK_TABLE_FEELS] = plan->feel_count;
    counts[UVK_TABLE_WHENS] = plan->when_count;
    counts[UVK_TABLE_COMBOS] = plan->combo_count;
    counts[UVK_TABLE_PARTS] = plan->part_count;
    counts[UVK_TABLE_STEPS] = plan->step_count;
    counts[UVK_TABLE_DANCES] = plan->dance_count;
    counts[UVK_TABLE_LINES] = plan->line_count;
    counts[UVK_TABLE_SEQUENCES] = plan->sequence_count;
    counts[UVK_TABLE_KNOBS] = plan->knob_count;
    counts[UVK_TABLE_HANDS] = plan->hand_count;
    counts[UVK_TABLE_TEXTS] = plan->text_count;
}

static const uint8_t row_size[UVK_TABLES] = {ROW_SIZES};

size_t uvk_image_size(const struct uvk_image_plan *plan)
{
    size_t counts[UVK_TABLES];
    size_t size = HEADER_SIZE + (size_t)UVK_TABLES * ENTRY_SIZE;

    row_counts(plan, counts);
    for (int kind = 0; kind < UVK_TABLES; kind++) {
        size += counts[kind] * row_size[kind];
    }
    return size;
}

static void write_header(const struct uvk_image_plan *plan, uint8_t *out, size_t size)
{
    memset(out, 0, HEADER_SIZE);
    memcpy(out + AT_MAGIC, "UVKI", 4);
    out[AT_VERSION] = UVK_IMAGE_VERSION;
    out[AT_TABLES] = UVK_TABLES;
    put16(out + AT_LENGTH, (unsigned)size);
    out[AT_KEYS] = plan->keys;
    out[AT_LAYERS] = plan->layers;
    out[AT_LINES] = plan->lines;
    out[AT_SENSES] = plan->senses;
}

static void write_directory(const size_t counts[UVK_TABLES], uint8_t *out)
{
    size_t at = HEADER_SIZE + (size_t)UVK_TABLES * ENTRY_SIZE;

    for (size_t kind = 0; kind < UVK_TABLES; kind++) {
        uint8_t *entry = out + HEADER_SIZE + kind * ENTRY_SIZE;
        entry[ENTRY_KIND] = (uint8_t)kind;
        entry[ENTRY_ROW] = row_size[kind];
        put16(entry + ENTRY_COUNT, (unsigned)counts[kind]);
        put16(entry + ENTRY_OFFSET, (unsigned)at);
        at += counts[kind] * row_size[kind];
    }
}

/* ---- the tables, in their order; each answers where the next one starts -------------------
 */

static uint8_t *write_words(const uint16_t *words, size_t count, uint8_t *at)
{
    for (size_t i = 0; i < count; i++, at += 2) {
        put16(at, words[i]);
    }
    return at;
}

static uint8_t *write_bytes(const uint8_t *bytes, size_t count, uint8_t *at)
{
    if (count > 0) {
        memcpy(at, bytes, count);
    }
    return at + count;
}

static uint8_t *write_chords(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->chord_count; i++, at += CHORD_ROW) {
        at[0] = plan->chords[i].mods;
        put16(at + 1, plan->chords[i].action);
    }
    return at;
}

static uint8_t *write_holds(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->hold_count; i++, at += HOLD_ROW) {
        put16(at, plan->holds[i].tap);
        put16(at + 2, plan->holds[i].held);
        at[4] = plan->holds[i].feel;
    }
    for (size_t i = 0; i < plan->feel_count; i++, at += FEEL_ROW) {
        put16(at, plan->feels[i].hold_after);
        put16(at + 2, plan->feels[i].rest);
        put16(at + 4, plan->feels[i].again);
        at[6] = plan->feels[i].flags;
    }
    return at;
}

static uint8_t *write_whens(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->when_count; i++, at += WHEN_ROW) {
        at[0] = plan->whens[i].layer;
        at[1] = plan->whens[i].a;
        at[2] = plan->whens[i].b;
    }
    return at;
}

static uint8_t *write_combos(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->combo_count; i++, at += COMBO_ROW) {
        put16(at, plan->combos[i].action);
        put16(at + 2, plan->combos[i].within);
        at[4] = plan->combos[i].flags;
        at[5] = plan->combos[i].keys;
        put16(at + 6, plan->combos[i].first);
    }
    return write_bytes(plan->parts, plan->part_count, at);
}

static uint8_t *write_steps(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->step_count; i++, at += STEP_ROW) {
        at[0] = plan->steps[i].op;
        put16(at + 1, plan->steps[i].operand);
    }
    return at;
}

static uint8_t *write_dances(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->dance_count; i++, at += DANCE_ROW) {
        put16(at, plan->dances[i].within);
        put16(at + 2, plan->dances[i].first);
        at[4] = plan->dances[i].taps;
    }
    return write_words(plan->dance_lines, plan->line_count, at);
}

static uint8_t *write_sequences(const struct uvk_image_plan *plan, uint8_t *at)
{
    for (size_t i = 0; i < plan->sequence_count; i++, at += SEQ_ROW) {
        put16(at, plan->sequences[i].action);
        put16(at + 2, plan->sequences[i].first);
        at[4] = plan->sequences[i].keys;
    }
    return at;
}

static void write_tables(const struct uvk_image_plan *plan, const size_t counts[UVK_TABLES],
                         uint8_t *at)
{
    at = write_bytes(plan->switches, counts[UVK_TABLE_SWITCHES], at);
    at = write_words(plan->settings, UVK_SETTINGS, at);
    at = write_words(plan->cells, counts[UVK_TABLE_CELLS], at);
    at = write_chords(plan, at);
    at = write_holds(plan, at);
    at = write_whens(plan, at);
    at = write_combos(plan, at);
    at = write_steps(plan, at);
    at = write_dances(plan, at);
    at = write_sequences(plan, at);
    at = write_bytes(plan->knobs, plan->knob_count, at);
    at = write_bytes(plan->hands, plan->hand_count, at);
    (void)write_bytes(plan->texts, plan->text_count, at);
}

enum uvk_status uvk_image_write(const struct uvk_image_plan *plan, uint8_t *out, size_t room)
{
    size_t counts[UVK_TABLES];
    size_t size = uvk_image_size(plan);
    struct uvk_image opened;
    uint32_t crc;

    if (size > room || size > UVK_IMAGE_MAX) {
        return UVK_NO_SPACE;
    }
    row_counts(plan, counts);
    write_header(plan, out, size);
    write_directory(counts, out);
    write_tables(plan, counts, out + HEADER_SIZE + (size_t)UVK_TABLES * ENTRY_SIZE);
    crc = uvk_crc32(UVK_CRC_START, out, AT_SUM);
    crc = uvk_crc32(crc, out + AT_KEYS, (uint16_t)(size - AT_KEYS));
    put32(out + AT_SUM, ~crc);
    return uvk_image_open(&opened, out, (uint16_t)size);
}
