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
#define WRITTEN ((uint8_t)0x5A) /* the last byte of a record */
#define AROUND  5u              /* kind, size, CRC, last byte */

/* A HEAD: format, sequence, board, erasures, the latter two with the low byte first. */
#define HEAD_BYTES 6u
#define HEAD_SIZE  (HEAD_BYTES + AROUND)

/* What the next step does. */
enum state {
    IDLE,
    APPEND,     /* the record that is wanted, at the end of the bank */
    ERASE,      /* the other bank, a piece at a time */
    COPY,       /* look for the next record that counts */
    COPY_ONE,   /* it, into the other bank */
    ADD_WANTED, /* the record that is wanted, behind those */
    HEAD        /* of the other bank: from then on it is the one that counts */
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
        crc = crc16_step(crc, read(port, bank, (uint16_t)(at + i)));
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

static uint8_t head_byte(struct uvk_port *port, uint8_t bank, uint8_t index)
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
static uint16_t size_at(const struct uvk_journal *journal, struct uvk_port *port, uint16_t at)
{
    return (uint16_t)(read(port, journal->bank, (uint16_t)(at + 1u)) + AROUND);
}

/* Where the latest record of KIND is, from FROM on; 0: nowhere (a head is there). */
static uint16_t latest(const struct uvk_journal *journal, struct uvk_port *port, uint8_t kind,
                       uint16_t from)
{
    uint16_t found = 0;

    for (uint16_t at = from; at < journal->whole;
         at = (uint16_t)(at + size_at(journal, port, at))) {
        found = kind_at(port, journal->bank, at) == kind ? at : found;
    }
    return found;
}

uint8_t uvk_journal_get(const struct uvk_journal *journal, struct uvk_port *port,
                        enum uvk_record_kind kind, uint8_t *out, uint8_t room)
{
    uint16_t at = journal->forgets ? 0 : latest(journal, port, (uint8_t)kind, HEAD_SIZE);
    uint8_t size = at > 0 ? read(port, journal->bank, (uint16_t)(at + 1u)) : 0;

    for (uint8_t i = 0; i < size && i < room; i++) {
        out[i] = read(port, journal->bank, (uint16_t)(at + 2u + i));
    }
    return size;
}

/* ---- long records ----------------------------------------------------------------------- */

/* A bank has at most one of a kind, its parts in order: it is written when the bank is made. */
UVK_ONE_COPY uint16_t uvk_journal_get_long(const struct uvk_journal *journal,
                                           struct uvk_port *port, enum uvk_record_kind kind,
                                           uint8_t *out, uint16_t room)
{
    uint16_t end = journal->forgets ? 0 : journal->whole;
    uint16_t size = 0;

    for (uint16_t at = HEAD_SIZE; at < end; at = (uint16_t)(at + size_at(journal, port, at))) {
        uint8_t left = read(port, journal->bank, (uint16_t)(at + 1u));
        uint16_t from = (uint16_t)(at + 2u);
        if (kind_at(port, journal->bank, at) != (uint8_t)kind) {
            continue;
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

bool uvk_journal_is_idle(const struct uvk_journal *journal)
{
    return !journal->wanted && (journal->state == IDLE || journal->state == ERASE);
}

bool uvk_journal_put(struct uvk_journal *journal, enum uvk_record_kind kind,
                     const uint8_t *bytes, uint8_t size)
{
    bool begun = journal->state != IDLE && journal->state != ERASE;

    if (begun || (journal->wanted && journal->kind != (uint8_t)kind)) {
        return false;
    }
    memcpy(journal->bytes, bytes, size);
    journal->kind = (uint8_t)kind;
    journal->size = size;
    journal->wanted = true;
    return true;
}

bool uvk_journal_put_long(struct uvk_journal *journal, enum uvk_record_kind kind,
                          const uint8_t *bytes, uint16_t size)
{
    if (journal->wanted && journal->kind != (uint8_t)kind) {
        return false;
    }
    if (journal->state != ERASE) {
        journal->state = IDLE; /* what is in the other bank by then does not count */
        journal->at = 0;
    }
    journal->kind = (uint8_t)kind;
    journal->from_caller = bytes;
    journal->size = size;
    journal->wanted = true;
    journal->rest = 0;
    return true;
}

/* A bank with a head and nothing else. */
void uvk_journal_forget(struct uvk_journal *journal)
{
    journal->forgets = true;
    journal->wanted = true;
    journal->size = 0;
    journal->rest = 0;
    if (journal->state != ERASE) {
        journal->state = IDLE;
        journal->at = 0;
    }
}

/* ---- writing ---------------------------------------------------------------------------- */

/* The record that is being written, as it will stand there: the wanted one, or a head. */
struct record {
    uint8_t kind, size;
    const uint8_t *bytes;
};

static UVK_ONE_COPY uint8_t record_byte(const struct record *record, uint16_t index)
{
    return index == 0 ? record->kind : index == 1 ? record->size : record->bytes[index - 2u];
}

static uint16_t record_crc(const struct record *record)
{
    uint16_t crc = CRC16_START;

    for (uint16_t i = 0; i < record->size + 2u; i++) {
        crc = crc16_step(crc, record_byte(record, i));
    }
    return crc;
}

static uint8_t byte_to_write(const struct record *record, uint16_t index)
{
    uint16_t behind = (uint16_t)(record->size + 2u);

    if (index < behind) {
        return record_byte(record, index);
    }
    if (index == behind) {
        return (uint8_t)(record_crc(record) >> 8);
    }
    if (index == behind + 1u) {
        return (uint8_t)record_crc(record);
    }
    return WRITTEN;
}

/* As many bytes as the memory takes at once; the last one by itself, when all others are there.
 * True: it is whole. */
static UVK_ONE_COPY bool write_piece(struct uvk_journal *journal, struct uvk_port *port,
                                     uint8_t bank, uint16_t at, const struct record *record)
{
    uint16_t last = (uint16_t)(record->size + AROUND - 1u);
    uint8_t piece[UVK_MEMORY_PIECE];
    uint8_t count = 0;

    do {
        piece[count] = byte_to_write(record, (uint16_t)(journal->done + count));
        count++;
    } while (count < UVK_MEMORY_PIECE && journal->done + count < last);
    uvk_port_memory_write(port, (uint16_t)(bank * UVK_BANK_BYTES + at + journal->done), piece,
                          count);
    journal->done = (uint16_t)(journal->done + count);
    return journal->done > last;
}

/* The next piece of what is wanted, whose next part stands *AT; that moves on with each whole
 * part. True: all of it is whole. */
static bool write_wanted(struct uvk_journal *journal, struct uvk_port *port, uint8_t bank,
                         uint16_t *at)
{
    struct record record = {journal->kind, (uint8_t)journal->size, journal->bytes};

    if (UVK_RECORD_IS_LONG(journal->kind)) {
        record.bytes = journal->from_caller;
        if (journal->size > UVK_RECORD_MAX) {
            record.size = UVK_RECORD_MAX;
        }
    }
    if (!write_piece(journal, port, bank, *at, &record)) {
        return false;
    }
    *at = (uint16_t)(*at + record.size + AROUND);
    journal->done = 0;
    journal->size = (uint16_t)(journal->size - record.size);
    journal->from_caller += record.size;
    return journal->size == 0;
}

static void rest_now(struct uvk_journal *journal)
{
    journal->wanted = false;
    journal->done = 0;
    journal->rest = UVK_JOURNAL_REST_MS;
}

static void append(struct uvk_journal *journal, struct uvk_port *port)
{
    if (write_wanted(journal, port, journal->bank, &journal->end)) {
        journal->state = IDLE;
        rest_now(journal);
    }
    journal->whole = journal->end;
}

/* The other bank is not blank: a piece of it becomes so. */
static void erase(struct uvk_journal *journal, struct uvk_port *port)
{
    uint8_t other = other_bank(journal);

    uvk_port_memory_erase(port, (uint16_t)(other * UVK_BANK_BYTES + journal->at));
    journal->at = (uint16_t)(journal->at + UVK_ERASE_BYTES);
    if (journal->at >= UVK_BANK_BYTES) {
        journal->at = 0;
        journal->blank = true;
        journal->erased = (uint16_t)(journal->erased + (journal->erased < UINT16_MAX));
        journal->state = IDLE;
    }
}

/* Does the record that is next to be looked at count: is it the latest of its kind? */
static bool counts(const struct uvk_journal *journal, struct uvk_port *port, uint8_t kind)
{
    return UVK_RECORD_IS_LONG(kind) ||
           latest(journal, port, kind, journal->from) == journal->from;
}

/* The next record of the bank that is the latest of its kind, and not of the one that is
 * wanted. */
static void find_next(struct uvk_journal *journal, struct uvk_port *port)
{
    uint8_t kind;

    if (journal->forgets || journal->from >= journal->whole) {
        journal->done = 0;
        journal->state = ADD_WANTED;
        return;
    }
    kind = kind_at(port, journal->bank, journal->from);
    if (kind != journal->kind && counts(journal, port, kind)) {
        journal->done = 0;
        journal->state = COPY_ONE;
    } else {
        journal->from = (uint16_t)(journal->from + size_at(journal, port, journal->from));
    }
}

/* Byte for byte as it stands there; it is whole. */
static void copy_one(struct uvk_journal *journal, struct uvk_port *port)
{
    uint16_t size = size_at(journal, port, journal->from);
    uint8_t piece[UVK_MEMORY_PIECE];
    uint8_t count = 0;

    while (count < UVK_MEMORY_PIECE && journal->done + count < size) {
        piece[count] =
            read(port, journal->bank, (uint16_t)(journal->from + journal->done + count));
        count++;
    }
    uvk_port_memory_write(
        port, (uint16_t)(other_bank(journal) * UVK_BANK_BYTES + journal->at + journal->done),
        piece, count);
    journal->done = (uint16_t)(journal->done + count);
    if (journal->done >= size) {
        journal->at = (uint16_t)(journal->at + size);
        journal->from = (uint16_t)(journal->from + size);
        journal->state = COPY;
    }
}

static void add_wanted(struct uvk_journal *journal, struct uvk_port *port)
{
    if (journal->size == 0 || /* to forget is to have nothing there */
        write_wanted(journal, port, other_bank(journal), &journal->at)) {
        journal->state = HEAD;
    }
}

/* With its head the other bank counts, and the old one does not. */
static UVK_ONE_COPY void write_head(struct uvk_journal *journal, struct uvk_port *port)
{
    const uint8_t bytes[HEAD_BYTES] = {FORMAT,
                                       (uint8_t)(journal->sequence + 1u),
                                       (uint8_t)journal->board,
                                       (uint8_t)(journal->board >> 8),
                                       (uint8_t)journal->erased,
                                       (uint8_t)(journal->erased >> 8)};
    const struct record head = {UVK_RECORD_HEAD, HEAD_BYTES, bytes};

    if (write_piece(journal, port, other_bank(journal), 0, &head)) {
        journal->bank = other_bank(journal);
        journal->sequence++;
        journal->end = journal->at;
        journal->whole = journal->at;
        journal->at = 0;
        journal->forgets = false;
        journal->state = IDLE;
        rest_now(journal);
    }
}

/* A record is wanted, or the bank that does not count waits to be erased. */
static void choose(struct uvk_journal *journal)
{
    bool fits = !journal->forgets && !UVK_RECORD_IS_LONG(journal->kind) &&
                journal->end + journal->size + AROUND <= UVK_BANK_BYTES;

    journal->done = 0;
    if (journal->wanted && fits && journal->rest == 0) {
        journal->state = APPEND;
    } else if (!journal->blank) {
        journal->state = ERASE;
    } else if (journal->wanted && journal->rest == 0) {
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
    switch (journal->state) {
    case APPEND:
        append(journal, port);
        break;
    case ERASE:
        if (rest || !UVK_ERASE_STANDS_STILL) {
            erase(journal, port);
        }
        break;
    case COPY:
        find_next(journal, port);
        break;
    case COPY_ONE:
        copy_one(journal, port);
        break;
    case ADD_WANTED:
        add_wanted(journal, port);
        break;
    case HEAD:
        write_head(journal, port);
        break;
    default:
        choose(journal);
        break;
    }
}

#endif
