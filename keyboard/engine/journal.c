/* journal.c - records in two banks: appended, copied when a bank is full, safe from power cuts.
 *
 * A record: its kind, its size, its bytes, a CRC-16 of those, and a last byte that is written
 * when all others are. A bank begins with a HEAD, which is written last of all when a bank is
 * made. */
#include "uvrek/journal.h"
#include "crc16.h"
#include "uvrek/port.h"

#include <string.h>

#if UVK_USE_JOURNAL

#define FORMAT 1u

#define ERASED  0xFFu
#define WRITTEN ((uint8_t)0x5A)   /* the last byte of a record */
#define AROUND  UVK_RECORD_AROUND /* kind, size, CRC, last byte */

/* A HEAD: format, sequence, board, erasures, the latter two with the low byte first. */
#define HEAD_BYTES 6u
#define HEAD_SIZE  (HEAD_BYTES + AROUND)

/* What the next step does, when no record is being written. */
enum state {
    IDLE,
    ERASE,  /* the other bank, a piece at a time */
    COPY,   /* the next record that counts, into the other bank */
    WANTED, /* the next part of what is wanted: behind those, or at the end of the bank */
    LAST    /* the other bank has its head: from then on it is the one that counts */
};

static uint8_t other_bank(const struct uvk_journal *journal)
{
    return journal->bank == 0;
}

static uint8_t read(struct uvk_port *port, uint8_t bank, uint16_t at)
{
    return uvk_port_memory_read(port, (uint16_t)(bank * UVK_BANK_BYTES + at));
}

/* ---- reading ---------------------------------------------------------------------------- */

/* Is there a whole record AT? Its size with all around it; 0: there is none. */
static uint16_t record_at(struct uvk_port *port, uint8_t bank, uint16_t at)
{
    uint16_t crc = CRC16_START;
    uint8_t size;

    if (at + AROUND > UVK_BANK_BYTES) {
        return 0;
    }
    size = read(port, bank, (uint16_t)(at + 1u));
    if (size > UVK_RECORD_MAX || at + AROUND + size > UVK_BANK_BYTES ||
        read(port, bank, (uint16_t)(at + AROUND - 1u + size)) != WRITTEN) {
        return 0;
    }
    for (uint8_t i = 0; i < size + 4u; i++) { /* with the CRC itself nothing is left */
        crc = uvk_crc16_byte(crc, read(port, bank, (uint16_t)(at + i)));
    }
    return crc == 0 ? (uint16_t)(size + AROUND) : 0u;
}

static uint8_t kind_at(struct uvk_port *port, uint8_t bank, uint16_t at)
{
    return read(port, bank, at);
}

static UVK_ONE_COPY bool is_erased_from(struct uvk_port *port, uint8_t bank, uint16_t at)
{
    while (at < UVK_BANK_BYTES && read(port, bank, at) == ERASED) {
        at++;
    }
    return at == UVK_BANK_BYTES;
}

/* The end of what is whole. Behind it there is nothing, or what a power cut has left: then the
 * bank is full. */
static void find_end(struct uvk_journal *journal, struct uvk_port *port)
{
    uint16_t size;

    journal->whole = 0;
    while ((size = record_at(port, journal->bank, journal->whole)) > 0) {
        journal->whole = (uint16_t)(journal->whole + size);
    }
    journal->end =
        is_erased_from(port, journal->bank, journal->whole) ? journal->whole : UVK_BANK_BYTES;
}

static bool has_head(struct uvk_port *port, uint8_t bank)
{
    return kind_at(port, bank, 0) == UVK_RECORD_HEAD && record_at(port, bank, 0) == HEAD_SIZE;
}

static UVK_ONE_COPY uint8_t head_byte(struct uvk_port *port, uint8_t bank, uint8_t index)
{
    return read(port, bank, (uint16_t)(2u + index));
}

static uint16_t head_pair(struct uvk_port *port, uint8_t bank, uint8_t index)
{
    return (uint16_t)(head_byte(port, bank, index) |
                      head_byte(port, bank, (uint8_t)(index + 1u)) << 8);
}

/* Of two banks with a head, the one that was made later. */
static uint8_t later_bank(struct uvk_port *port)
{
    bool second = has_head(port, 1);

    if (!has_head(port, 0) || !second) {
        return second;
    }
    return (int8_t)(head_byte(port, 1, 1) - head_byte(port, 0, 1)) > 0;
}

/* Nothing of it counts: the first record makes a bank of its own. */
static enum uvk_journal_found begin_empty(struct uvk_journal *journal,
                                          enum uvk_journal_found found)
{
    journal->end = UVK_BANK_BYTES;
    journal->forgets = true;
    return found;
}

enum uvk_journal_found uvk_journal_open(struct uvk_journal *journal, struct uvk_port *port,
                                        uint16_t board)
{
    memset(journal, 0, sizeof *journal);
    journal->board = board;
    journal->bank = later_bank(port);
    journal->blank = is_erased_from(port, other_bank(journal), 0);
    if (!has_head(port, journal->bank)) {
        return begin_empty(journal, UVK_JOURNAL_EMPTY);
    }
    journal->sequence = head_byte(port, journal->bank, 1);
    journal->erased = head_pair(port, journal->bank, 4);
    if (head_byte(port, journal->bank, 0) != FORMAT) {
        return begin_empty(journal, UVK_JOURNAL_NEWER);
    }
    if (head_pair(port, journal->bank, 2) != board) {
        return begin_empty(journal, UVK_JOURNAL_OF_OTHER_BOARD);
    }
    find_end(journal, port);
    return UVK_JOURNAL_KEPT;
}

/* The size, with all around it, of the whole record AT. */
static UVK_ONE_COPY uint16_t size_at(const struct uvk_journal *journal, struct uvk_port *port,
                                     uint16_t at)
{
    return (uint16_t)(read(port, journal->bank, (uint16_t)(at + 1u)) + AROUND);
}

/* The records of a bank, from the one AT on; short ones count from the latest of their kind on,
 * a long one has its parts in order, for a bank has at most one of a kind. */
uint16_t uvk_journal_get(const struct uvk_journal *journal, struct uvk_port *port,
                         enum uvk_record_kind kind, uint8_t *out, uint16_t room)
{
    uint16_t end = journal->forgets ? 0 : journal->whole;
    uint16_t size = 0;

    for (uint16_t at = HEAD_SIZE; at < end; at = (uint16_t)(at + size_at(journal, port, at))) {
        uint8_t left = read(port, journal->bank, (uint16_t)(at + 1u));
        uint16_t from = (uint16_t)(at + 2u);
        if (kind_at(port, journal->bank, at) != (uint8_t)kind) {
            continue;
        }
        if (!UVK_RECORD_IS_LONG(kind)) {
            size = 0;
        }
        for (; left > 0; left--, from++, size++) {
            if (size < room) {
                out[size] = read(port, journal->bank, from);
            }
        }
    }
    return size;
}

/* ---- asking ----------------------------------------------------------------------------- */

static bool has_begun(const struct uvk_journal *journal)
{
    return journal->state != IDLE && journal->state != ERASE;
}

bool uvk_journal_is_idle(const struct uvk_journal *journal)
{
    return !journal->wanted && !has_begun(journal);
}

/* SIZE bytes are wanted as a record of KIND. */
static void want(struct uvk_journal *journal, enum uvk_record_kind kind, const uint8_t *bytes,
                 uint16_t size)
{
    journal->kind = (uint8_t)kind;
    journal->bytes = bytes;
    journal->size = size;
    journal->wanted = true;
}

/* What is in the other bank by then does not count. */
static void begin_anew(struct uvk_journal *journal)
{
    journal->rest = 0;
    if (has_begun(journal)) {
        journal->state = IDLE;
        journal->left = 0;
        journal->at = 0;
    }
}

bool uvk_journal_put(struct uvk_journal *journal, enum uvk_record_kind kind,
                     const uint8_t *bytes, uint8_t size)
{
    if (has_begun(journal) || (journal->wanted && journal->kind != (uint8_t)kind)) {
        return false;
    }
    memcpy(journal->kept, bytes, size);
    want(journal, kind, journal->kept, size);
    return true;
}

bool uvk_journal_put_long(struct uvk_journal *journal, enum uvk_record_kind kind,
                          const uint8_t *bytes, uint16_t size)
{
    if (journal->wanted && journal->kind != (uint8_t)kind) {
        return false;
    }
    begin_anew(journal);
    want(journal, kind, bytes, size);
    return true;
}

/* A bank with a head and nothing else. */
void uvk_journal_forget(struct uvk_journal *journal)
{
    journal->forgets = true;
    begin_anew(journal);
    want(journal, UVK_RECORD_HEAD, NULL, 0);
}

/* ---- a record is written ---------------------------------------------------------------- */

/* What stands in the record goes AT a place of the bank INTO. */
static void write_at(struct uvk_journal *journal, uint8_t into, uint16_t at, uint8_t bytes)
{
    journal->place = (uint16_t)(into * UVK_BANK_BYTES + at);
    journal->done = 0;
    journal->left = bytes;
}

/* A record is made of SIZE bytes, if it has them already those of its own. */
static void make(struct uvk_journal *journal, uint8_t kind, uint8_t size)
{
    uint8_t *record = journal->record;
    uint16_t crc = CRC16_START;
    uint8_t i;

    record[0] = kind;
    record[1] = size;
    for (i = 0; i < size + 2u; i++) {
        crc = uvk_crc16_byte(crc, record[i]);
    }
    record[i] = (uint8_t)(crc >> 8);
    record[i + 1u] = (uint8_t)crc;
    record[i + 2u] = WRITTEN;
}

/* As many bytes as the memory takes at once; the last one by itself, when all others are there.
 */
static void write_piece(struct uvk_journal *journal, struct uvk_port *port)
{
    uint8_t count = (uint8_t)(journal->left - (journal->left > 1));

    if (count > UVK_MEMORY_PIECE) {
        count = UVK_MEMORY_PIECE;
    }
    uvk_port_memory_write(port, journal->place, journal->record + journal->done, count);
    journal->place = (uint16_t)(journal->place + count);
    journal->done = (uint8_t)(journal->done + count);
    journal->left = (uint8_t)(journal->left - count);
}

/* ---- a step ----------------------------------------------------------------------------- */

/* All is written that was wanted: the bank ends there. */
static void rest_now(struct uvk_journal *journal)
{
    journal->end = journal->at;
    journal->whole = journal->at;
    journal->at = 0;
    journal->wanted = false;
    journal->rest = UVK_JOURNAL_REST_MS;
    journal->state = IDLE;
}

/* The other bank is not blank: a piece of it becomes so. */
static void erase(struct uvk_journal *journal, struct uvk_port *port)
{
    uvk_port_memory_erase(port, (uint16_t)(other_bank(journal) * UVK_BANK_BYTES + journal->at));
    journal->at = (uint16_t)(journal->at + UVK_ERASE_BYTES);
    if (journal->at >= UVK_BANK_BYTES) {
        journal->at = 0;
        journal->blank = true;
        journal->erased = (uint16_t)(journal->erased + (journal->erased < UINT16_MAX));
        journal->state = IDLE;
    }
}

/* Does the record AT, of KIND, count: is it the latest of its kind, and not of the one that is
 * wanted? */
static bool counts(const struct uvk_journal *journal, struct uvk_port *port, uint16_t at,
                   uint8_t kind)
{
    if (kind == journal->kind) {
        return false;
    }
    while (!UVK_RECORD_IS_LONG(kind)) {
        at = (uint16_t)(at + size_at(journal, port, at));
        if (at >= journal->whole) {
            break;
        }
        if (kind_at(port, journal->bank, at) == kind) {
            return false;
        }
    }
    return true;
}

/* The next record of the bank, if it counts, goes into the other one: byte for byte as it
 * stands there, for it is whole. */
static void copy(struct uvk_journal *journal, struct uvk_port *port)
{
    uint16_t from = journal->from;
    uint8_t size;

    if (journal->forgets || from >= journal->whole) {
        journal->state = WANTED;
        return;
    }
    size = (uint8_t)size_at(journal, port, from);
    journal->from = (uint16_t)(from + size);
    if (!counts(journal, port, from, kind_at(port, journal->bank, from))) {
        return;
    }
    for (uint8_t i = 0; i < size; i++) {
        journal->record[i] = read(port, journal->bank, (uint16_t)(from + i));
    }
    write_at(journal, other_bank(journal), journal->at, size);
    journal->at = (uint16_t)(journal->at + size);
}

/* With its head the other bank counts, and the old one does not. */
static void write_head(struct uvk_journal *journal)
{
    const uint8_t head[HEAD_BYTES] = {FORMAT,
                                      (uint8_t)(journal->sequence + 1u),
                                      (uint8_t)journal->board,
                                      (uint8_t)(journal->board >> 8),
                                      (uint8_t)journal->erased,
                                      (uint8_t)(journal->erased >> 8)};

    memcpy(journal->record + 2, head, sizeof head);
    make(journal, UVK_RECORD_HEAD, HEAD_BYTES);
    write_at(journal, other_bank(journal), 0, HEAD_SIZE);
    journal->state = LAST;
}

/* The next part; to forget is to have none. */
static void write_wanted(struct uvk_journal *journal)
{
    uint8_t size = UVK_RECORD_MAX;

    if (journal->size == 0 && journal->appends) {
        rest_now(journal);
        return;
    }
    if (journal->size == 0) {
        write_head(journal);
        return;
    }
    if (journal->size < UVK_RECORD_MAX) {
        size = (uint8_t)journal->size;
    }
    memcpy(journal->record + 2, journal->bytes, size);
    make(journal, journal->kind, size);
    write_at(journal, journal->appends ? journal->bank : other_bank(journal), journal->at,
             (uint8_t)(size + AROUND));
    journal->at = (uint16_t)(journal->at + size + AROUND);
    journal->bytes += size;
    journal->size = (uint16_t)(journal->size - size);
}

static void change_banks(struct uvk_journal *journal)
{
    journal->bank = other_bank(journal);
    journal->sequence++;
    journal->forgets = false;
    rest_now(journal);
}

/* A record is wanted, or the bank that does not count waits to be erased. */
static void choose(struct uvk_journal *journal)
{
    bool now = journal->wanted && journal->rest == 0;

    journal->appends = now && !journal->forgets && !UVK_RECORD_IS_LONG(journal->kind) &&
                       journal->end + journal->size + AROUND <= UVK_BANK_BYTES;
    if (journal->appends) {
        journal->at = journal->end;
        journal->state = WANTED;
    } else if (!journal->blank) {
        journal->state = ERASE;
    } else if (now) {
        journal->blank = false;
        journal->at = HEAD_SIZE;
        journal->from = HEAD_SIZE;
        journal->state = COPY;
    }
}

void uvk_journal_task(struct uvk_journal *journal, struct uvk_port *port, uint8_t ms, bool rest)
{
    journal->rest = (uint16_t)(journal->rest - (journal->rest > ms ? ms : journal->rest));
    if (!uvk_port_memory_ready(port)) {
        return;
    }
    if (journal->left > 0) {
        write_piece(journal, port);
        return;
    }
    switch (journal->state) {
    case ERASE:
        if (rest || !UVK_ERASE_STANDS_STILL) {
            erase(journal, port);
        }
        break;
    case COPY:
        copy(journal, port);
        break;
    case WANTED:
        write_wanted(journal);
        break;
    case LAST:
        change_banks(journal);
        break;
    default:
        choose(journal);
        break;
    }
}

#endif
