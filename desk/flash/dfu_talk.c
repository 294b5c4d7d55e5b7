/* dfu_talk.c - the requests of DFU 1.1 (dfu.h), and what is said when they go wrong. */
#include "dfu.h"

#define TO_DEVICE   0x21 /* class, interface (DFU 1.1, 3) */
#define FROM_DEVICE 0xA1
#define ANSWER_MS   5000u
#define BUSY_MS     30000u /* no erase and no block takes longer */
#define LOOKS_MOST  4u

/* DFU 1.1, 6.1.2, in words. */
static const char *const status_words[] = {
    [UVK_DFU_OK] = "it says that all is well",
    [UVK_DFU_TARGET] = "the firmware is not for this board",
    [UVK_DFU_FILE] = "the firmware fails a check of its maker",
    [UVK_DFU_WRITE] = "it cannot write to its memory",
    [UVK_DFU_ERASE] = "it cannot erase its memory",
    [UVK_DFU_CHECK_ERASED] = "its memory is not empty after erasing",
    [UVK_DFU_PROGRAM] = "it cannot program its memory",
    [UVK_DFU_VERIFY] = "its memory does not hold what was written",
    [UVK_DFU_ADDRESS] = "the address is outside its memory",
    [UVK_DFU_NOT_DONE] = "the firmware is not whole",
    [UVK_DFU_FIRMWARE] = "its firmware is damaged, and it cannot go back to it",
    [UVK_DFU_VENDOR] = "an error of its maker's own",
    [UVK_DFU_USB_RESET] = "the bus was reset",
    [UVK_DFU_POWER_ON] = "it was switched off and on",
    [UVK_DFU_UNKNOWN] = "something went wrong, it does not know what",
    [UVK_DFU_STALLED] = "it did not expect that",
};

static bool fail(GError **error, const char *what, const char *why)
{
    g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE, "the bootloader refused %s: %s", what, why);
    return false;
}

static bool fail_cut(struct dfu *dfu, enum uvk_cable_result result, const char *what,
                     GError **error)
{
    dfu->lost = true;
    if (result == UVK_CABLE_LATE) {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the bootloader did not answer when it was asked %s", what);
    } else {
        g_set_error(error, UVK_PROBLEM, UVK_NOT_DONE,
                    "the bootloader was gone when it was asked %s", what);
    }
    return false;
}

/* ---- requests --------------------------------------------------------------------------- */

static enum uvk_cable_result ask(struct dfu *dfu, uint8_t type, enum uvk_dfu_request code,
                                 uint16_t value, uint8_t *data, size_t *size)
{
    const struct uvk_request request = {type, (uint8_t)code, value, dfu->function.interface};

    return uvk_cable_ask(dfu->cable, &request, data, size, ANSWER_MS);
}

static enum uvk_cable_result command(struct dfu *dfu, enum uvk_dfu_request code)
{
    size_t none = 0;

    return ask(dfu, TO_DEVICE, code, 0, NULL, &none);
}

static enum uvk_cable_result get_status(struct dfu *dfu, struct dfu_status *status)
{
    uint8_t bytes[UVK_DFU_STATUS_SIZE];
    size_t size = sizeof bytes;
    enum uvk_cable_result result = ask(dfu, FROM_DEVICE, UVK_DFU_GETSTATUS, 0, bytes, &size);

    if (result == UVK_CABLE_DONE && size == sizeof bytes) {
        status->status = bytes[0];
        status->wait = (uint32_t)bytes[1] | (uint32_t)bytes[2] << 8 | (uint32_t)bytes[3] << 16;
        status->state = bytes[4];
    }
    return result == UVK_CABLE_DONE && size != sizeof bytes ? UVK_CABLE_STALL : result;
}

/* It stalled: its status says why. */
static bool fail_stalled(struct dfu *dfu, const char *what, GError **error)
{
    struct dfu_status status;

    if (get_status(dfu, &status) != UVK_CABLE_DONE ||
        status.status >= G_N_ELEMENTS(status_words) || status.status == UVK_DFU_OK) {
        return fail(error, what, "it does not say why");
    }
    (void)command(dfu, UVK_DFU_CLRSTATUS);
    return fail(error, what, status_words[status.status]);
}

static bool passed(struct dfu *dfu, enum uvk_cable_result result, const char *what,
                   GError **error)
{
    return result == UVK_CABLE_DONE ||
           (result == UVK_CABLE_STALL ? fail_stalled(dfu, what, error)
                                      : fail_cut(dfu, result, what, error));
}

static bool sane(const struct dfu_status *status, const char *what, GError **error)
{
    if (status->status >= G_N_ELEMENTS(status_words) || status->state > UVK_DFU_ERROR) {
        return fail(error, what, "what it answers means nothing");
    }
    return true;
}

bool dfu_send(struct dfu *dfu, uint16_t block, const uint8_t *data, size_t size,
              const char *what, GError **error)
{
    uint8_t *copy = g_memdup2(data, size);
    size_t sent = size;
    enum uvk_cable_result result = ask(dfu, TO_DEVICE, UVK_DFU_DNLOAD, block, copy, &sent);

    g_free(copy);
    return passed(dfu, result, what, error);
}

bool dfu_fetch(struct dfu *dfu, uint16_t block, uint8_t *data, size_t size, const char *what,
               GError **error)
{
    size_t got = size;
    enum uvk_cable_result result = ask(dfu, FROM_DEVICE, UVK_DFU_UPLOAD, block, data, &got);

    if (!passed(dfu, result, what, error)) {
        return false;
    }
    return got == size || fail(error, what, "it gave less than it was asked for");
}

bool dfu_settled(struct dfu *dfu, const char *what, GError **error)
{
    gint64 end = g_get_monotonic_time() + (gint64)BUSY_MS * 1000;
    struct dfu_status status = {0, 0, UVK_DFU_BUSY};

    while (g_get_monotonic_time() < end) {
        if (!passed(dfu, get_status(dfu, &status), what, error) ||
            !sane(&status, what, error)) {
            return false;
        }
        if (status.state == UVK_DFU_ERROR || status.status != UVK_DFU_OK) {
            (void)command(dfu, UVK_DFU_CLRSTATUS);
            return fail(error, what, status_words[status.status]);
        }
        if (status.state != UVK_DFU_BUSY && status.state != UVK_DFU_DOWNLOAD_SYNC) {
            return true;
        }
        g_usleep(MIN(status.wait, BUSY_MS) * 1000u);
    }
    return fail(error, what, "it is busy and does not come to an end");
}

/* Whatever was left over from before. */
bool dfu_idle(struct dfu *dfu, GError **error)
{
    static const char what[] = "to tell its state";
    struct dfu_status status = {0, 0, UVK_DFU_ERROR};

    for (unsigned looks = 0; looks < LOOKS_MOST; looks++) {
        if (!passed(dfu, get_status(dfu, &status), what, error) ||
            !sane(&status, what, error)) {
            return false;
        }
        if (status.state == UVK_DFU_IDLE && status.status == UVK_DFU_OK) {
            return true;
        }
        (void)command(dfu, status.state == UVK_DFU_ERROR ? UVK_DFU_CLRSTATUS : UVK_DFU_ABORT);
        g_usleep(MIN(status.wait, ANSWER_MS) * 1000u);
    }
    return fail(error, "to begin", "it does not become idle; reset the board and try again");
}

/* A device that is not tolerant says no more, and waits for a reset. */
bool dfu_manifest(struct dfu *dfu, GError **error)
{
    static const char what[] = "to take it over";
    bool tolerant = (dfu->function.attributes & UVK_DFU_TOLERANT) != 0;
    gint64 end = g_get_monotonic_time() + (gint64)BUSY_MS * 1000;
    struct dfu_status status = {0, 0, UVK_DFU_MANIFEST_SYNC};

    if (!dfu_send(dfu, (uint16_t)dfu->blocks, (const uint8_t *)"", 0, what, error)) {
        return false;
    }
    while (g_get_monotonic_time() < end) {
        enum uvk_cable_result result = get_status(dfu, &status);
        if (!tolerant && (result == UVK_CABLE_GONE || result == UVK_CABLE_LATE)) {
            return true;
        }
        if (!passed(dfu, result, what, error) || !sane(&status, what, error)) {
            return false;
        }
        if (status.status != UVK_DFU_OK) {
            return fail(error, what, status_words[status.status]);
        }
        if (status.state == UVK_DFU_IDLE || status.state == UVK_DFU_MANIFEST_WAIT_RESET) {
            return true;
        }
        g_usleep(MIN(status.wait, BUSY_MS) * 1000u);
        if (!tolerant && status.state == UVK_DFU_MANIFEST) {
            return true;
        }
    }
    return fail(error, what, "it does not come to an end");
}

/* ---- comparing --------------------------------------------------------------------------- */

bool dfu_compare(const uint8_t *got, const uint8_t *code, size_t size, GError **error)
{
    for (size_t i = 0; i < size; i++) {
        if (got[i] != code[i]) {
            g_set_error(error, UVK_PROBLEM, UVK_NOT_WELL,
                        "the chip does not hold what was written: 0x%02X at address 0x%04zX "
                        "should be 0x%02X; try again",
                        got[i], i, code[i]);
            return false;
        }
    }
    return true;
}
