/* journal.h - what outlives the power: records in two banks of the chip's memory.
 *
 * 1. A record has a kind, and the latest of a kind counts. Records are appended; when a bank is
 *    full, those that count are copied into the other one, and only then is the old one
 * retired.
 * 2. The power may go at ANY moment: what is read afterwards is what was before, or what was to
 * be. Bytes that were being written then may hold anything.
 * 3. The journal knows records, not keymaps. It knows its board: records of another one, or of
 * a newer format, are as good as none, and are kept until something is written.
 * 4. Nothing here waits: uvk_journal_task does one small step at a time. On chips that stand
 * still while they erase, that step waits until the keyboard is at rest.
 * 5. The memory lives for so many erasures; they are counted. A kind that changes often is
 * written no more often than once in UVK_JOURNAL_REST_MS; then what it is by then.
 * 6. A long record is several in a row. It is written from the caller's own bytes, whenever it
 * changes with a new bank, so that all of it counts or none.
 * 7. docs/journal.md has the layout.
 */
#ifndef UVREK_JOURNAL_H
#define UVREK_JOURNAL_H

#include "uvrek/config.h"

#include <stdbool.h>
#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

struct uvk_port;

#define UVK_RECORD_MAX      32u   /* bytes of a part of a long record */
#define UVK_RECORD_SHORT    4u    /* of any other one, at most */
#define UVK_RECORD_AROUND   5u    /* and what stands around those, see docs/journal.md */
#define UVK_JOURNAL_REST_MS 5000u /* between two records, but for the first */

enum uvk_record_kind {
    UVK_RECORD_HEAD = 1, /* of a bank: the journal's own */
    UVK_RECORD_HALF,     /* which half this is: a byte, 1 or 2 */
    UVK_RECORD_LIGHTS,   /* see lights.h */
    UVK_RECORD_KINDS,
    UVK_RECORD_CHANGES = 0x80 /* long: what was changed live, see changes.h */
};
#define UVK_RECORD_IS_LONG(kind) (((kind)&0x80u) != 0)

/* What was found at the start. */
enum uvk_journal_found {
    UVK_JOURNAL_KEPT,  /* records of this board */
    UVK_JOURNAL_EMPTY, /* nothing that is a journal */
    UVK_JOURNAL_OF_OTHER_BOARD,
    UVK_JOURNAL_NEWER /* its format is not known here */
};

/* All of it is the journal's own. */
struct uvk_journal {
    uint8_t bank;         /* the one that counts */
    uint8_t sequence;     /* of it */
    uint8_t state;        /* what the next step is */
    uint8_t kind;         /* of the record that is wanted */
    uint16_t size;        /* of it, as far as it is not written yet */
    const uint8_t *bytes; /* likewise; of a long one, the caller's */
    uint16_t board;
    uint16_t whole;     /* where the records of the bank end */
    uint16_t end;       /* where the next one goes; the bank's size: nowhere */
    uint16_t at, from;  /* a step's places: where it writes, what it copies */
    uint16_t place;     /* in the memory, of the record that is being written */
    uint8_t done, left; /* its bytes */
    uint16_t rest;      /* milliseconds until the next record may be written */
    uint16_t erased;    /* banks that were erased, over its life */
    bool wanted;        /* a record waits */
    bool appends;       /* it goes into the bank that counts, not into the other one */
    bool forgets;       /* nothing is to be copied */
    bool blank;         /* the other bank is known to be erased */
    uint8_t kept[UVK_RECORD_SHORT]; /* the bytes of a short one */
    uint8_t record[UVK_RECORD_MAX + UVK_RECORD_AROUND];
};

/* Look at what is in the memory. BOARD: sixteen bits that stand for the board. */
enum uvk_journal_found uvk_journal_open(struct uvk_journal *journal, struct uvk_port *port,
                                        uint16_t board);

/* The latest record of KIND, short or long, into OUT, at most ROOM bytes; how many it has, 0:
 * there is none. */
uint16_t uvk_journal_get(const struct uvk_journal *journal, struct uvk_port *port,
                         enum uvk_record_kind kind, uint8_t *out, uint16_t room);

/* Keep a record of SIZE bytes (1..UVK_RECORD_SHORT). False: another kind is still being
 * written; ask again. One of the same kind that has not been begun is replaced. */
bool uvk_journal_put(struct uvk_journal *journal, enum uvk_record_kind kind,
                     const uint8_t *bytes, uint8_t size);

/* Keep a long record of SIZE bytes, which stay the caller's and do not change until it is idle,
 * or until another one of the same kind has been put: that one is written instead. A person has
 * asked for it, so it does not rest before it. False as above. */
bool uvk_journal_put_long(struct uvk_journal *journal, enum uvk_record_kind kind,
                          const uint8_t *bytes, uint16_t size);
/* Forget all records. It is done when uvk_journal_is_idle. */
void uvk_journal_forget(struct uvk_journal *journal);

/* Do a step, if the memory is ready for one. MS have passed since the last call. At REST: no
 * key is down, and none has been for a while. */
void uvk_journal_task(struct uvk_journal *journal, struct uvk_port *port, uint8_t ms,
                      bool rest);

/* Nothing is to be written any more; a bank may still be waiting to be erased. */
bool uvk_journal_is_idle(const struct uvk_journal *journal);

#ifdef __cplusplus
}
#endif

#endif
