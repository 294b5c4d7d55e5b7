/* dfu.c - a bootloader that speaks DFU 1.1 (dfu.h): what the host asks for, and the states that
 * it goes through. What it does to the flash is in dfu_flash.c. */
#include "dfu.h"

#include <string.h>

#define GET_DESCRIPTOR  6
#define STANDARD        0x00
#define CLASS           0x21 /* to the interface */
#define FROM_DEVICE     0x80
#define SLOW_MS         10u
#define STATUS_NONSENSE 0xA5

/* ---- descriptors (USB 2.0, 9.6; DFU 1.1, 4) ---------------------------------------------- */

static size_t put_device(const struct uvk_dfu_boot *boot, uint8_t *out)
{
    const struct uvk_dfu_kind *kind = &boot->kind;
    const uint8_t device[] = {18,
                              1,
                              0x00,
                              0x02,
                              0,
                              0,
                              0,
                              UVK_DFU_PACKET,
                              (uint8_t)kind->vendor,
                              (uint8_t)(kind->vendor >> 8),
                              (uint8_t)kind->product,
                              (uint8_t)(kind->product >> 8),
                              0x00,
                              0x01,
                              1,
                              2,
                              0,
                              1};

    memcpy(out, device, sizeof device);
    return sizeof device;
}

static size_t put_configuration(const struct uvk_dfu_boot *boot, uint8_t *out)
{
    const struct uvk_dfu_kind *kind = &boot->kind;
    unsigned attributes = UVK_DFU_CAN_DOWNLOAD |
                          (kind->uploads || !kind->plain ? UVK_DFU_CAN_UPLOAD : 0u) |
                          (kind->tolerant ? UVK_DFU_TOLERANT : 0u);
    const uint8_t configuration[] = {9,
                                     2,
                                     27,
                                     0,
                                     1,
                                     1,
                                     0,
                                     0x80,
                                     50, /* itself */
                                     9,
                                     4,
                                     0,
                                     0,
                                     0,
                                     UVK_DFU_CLASS,
                                     UVK_DFU_SUBCLASS,
                                     UVK_DFU_PROTOCOL,
                                     0, /* interface */
                                     9,
                                     UVK_DFU_FUNCTIONAL,
                                     (uint8_t)attributes,
                                     0,
                                     0,
                                     (uint8_t)kind->transfer,
                                     (uint8_t)(kind->transfer >> 8),
                                     0x10,
                                     0x01};

    memcpy(out, configuration, sizeof configuration);
    return sizeof configuration;
}

static size_t put_string(const struct uvk_dfu_boot *boot, uint8_t index, uint8_t *out)
{
    const char *text = index == 1 ? "Saltmarsh bench" : boot->chip->title;
    size_t size = 2;

    if (index == 0) {
        memcpy(out, (const uint8_t[]){4, 3, 0x09, 0x04}, 4);
        return 4;
    }
    for (; *text != '\0'; text++) {
        out[size++] = (uint8_t)*text;
        out[size++] = 0;
    }
    out[0] = (uint8_t)size;
    out[1] = 3;
    return size;
}

static enum uvk_transfer tell_descriptor(const struct uvk_dfu_boot *boot,
                                         const uint8_t setup[8], uint8_t *data, size_t *size)
{
    uint8_t out[128];
    size_t whole = setup[3] == 1                    ? put_device(boot, out)
                   : setup[3] == 2                  ? put_configuration(boot, out)
                   : setup[3] == 3 && setup[2] <= 2 ? put_string(boot, setup[2], out)
                                                    : 0;

    if (whole == 0) {
        return UVK_TRANSFER_STALL;
    }
    *size = MIN(*size, whole);
    memcpy(data, out, *size);
    return UVK_TRANSFER_DONE;
}

/* Configuration and address need no more than to be taken. */
static enum uvk_transfer standard(const struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                  uint8_t *data, size_t *size)
{
    if (setup[1] == GET_DESCRIPTOR && setup[0] == FROM_DEVICE) {
        return tell_descriptor(boot, setup, data, size);
    }
    if (setup[0] & FROM_DEVICE) {
        memset(data, 0, *size);
        data[0] = setup[1] == 8 /* GET_CONFIGURATION */;
    }
    return UVK_TRANSFER_DONE;
}

/* ---- requests of the class (DFU 1.1, 3) ------------------------------------------------- */

static enum uvk_transfer download(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                  uint8_t *data, size_t *size)
{
    unsigned block = setup[2] | (unsigned)setup[3] << 8;
    bool ready = boot->state == UVK_DFU_IDLE || boot->state == UVK_DFU_DOWNLOAD_IDLE;

    if (!ready) {
        return boot_refuse(boot, UVK_DFU_STALLED);
    }
    return boot->kind.plain ? boot_take_block(boot, block, data, *size)
                            : boot_take_command(boot, data, *size);
}

static enum uvk_transfer upload(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                uint8_t *data, size_t *size)
{
    unsigned block = setup[2] | (unsigned)setup[3] << 8;

    return boot->kind.plain ? boot_give_block(boot, block, data, size)
                            : boot_give_asked(boot, data, size);
}

/* Being asked is what moves it on (A.1 of the standard). */
static void move_on(struct uvk_dfu_boot *boot)
{
    if (boot->polls > 0) {
        boot->polls--;
        return;
    }
    switch (boot->state) {
    case UVK_DFU_DOWNLOAD_SYNC:
    case UVK_DFU_BUSY:
        boot->state = boot->failure != UVK_DFU_OK ? UVK_DFU_ERROR : UVK_DFU_DOWNLOAD_IDLE;
        boot->status = boot->failure;
        break;
    case UVK_DFU_MANIFEST_SYNC:
        boot->state = UVK_DFU_MANIFEST;
        break;
    case UVK_DFU_MANIFEST:
        boot->state = boot->kind.tolerant ? UVK_DFU_IDLE : UVK_DFU_MANIFEST_WAIT_RESET;
        break;
    default:
        break;
    }
}

static enum uvk_transfer tell_status(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                     uint8_t *data, size_t *size)
{
    bool sync = boot->state == UVK_DFU_DOWNLOAD_SYNC;
    uint8_t status[UVK_DFU_STATUS_SIZE] = {0};

    (void)setup;
    if (boot->state == UVK_DFU_MANIFEST_WAIT_RESET) {
        return UVK_TRANSFER_FAILED; /* it answers to nothing but the reset */
    }
    if (sync) {
        boot->state = UVK_DFU_BUSY;
    }
    move_on(boot);
    status[0] = (uint8_t)boot->status;
    status[1] = boot->faults.slow ? SLOW_MS : boot->kind.poll;
    status[4] = (uint8_t)boot->state;
    *size = MIN(*size, sizeof status);
    memcpy(data, status, *size);
    return UVK_TRANSFER_DONE;
}

static enum uvk_transfer clear_status(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                      uint8_t *data, size_t *size)
{
    (void)setup;
    (void)data;
    (void)size;
    boot->state = UVK_DFU_IDLE;
    boot->status = UVK_DFU_OK;
    boot->failure = UVK_DFU_OK;
    return UVK_TRANSFER_DONE;
}

static enum uvk_transfer tell_state(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                    uint8_t *data, size_t *size)
{
    (void)setup;
    *size = MIN(*size, 1u);
    data[0] = (uint8_t)boot->state;
    return UVK_TRANSFER_DONE;
}

static enum uvk_transfer abort_all(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                   uint8_t *data, size_t *size)
{
    if (boot->state == UVK_DFU_ERROR) {
        return UVK_TRANSFER_STALL;
    }
    return clear_status(boot, setup, data, size);
}

static enum uvk_transfer (*const answers[])(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                            uint8_t *data, size_t *size) = {
    [UVK_DFU_DNLOAD] = download,       [UVK_DFU_UPLOAD] = upload,
    [UVK_DFU_GETSTATUS] = tell_status, [UVK_DFU_CLRSTATUS] = clear_status,
    [UVK_DFU_GETSTATE] = tell_state,   [UVK_DFU_ABORT] = abort_all,
};

/* ---- the gadget ------------------------------------------------------------------------- */

static enum uvk_transfer class_request(struct uvk_dfu_boot *boot, const uint8_t setup[8],
                                       uint8_t *data, size_t *size)
{
    const struct uvk_dfu_faults *faults = &boot->faults;
    bool late = boot->requests++ >= faults->after;

    boot->struck =
        boot->struck || (late && (faults->vanishes || faults->silent || faults->nonsense));
    if (late && faults->vanishes) {
        boot->vanished = true;
        return UVK_TRANSFER_FAILED;
    }
    if (late && faults->silent) {
        return UVK_TRANSFER_FAILED;
    }
    if (late && faults->nonsense && (setup[0] & FROM_DEVICE)) {
        memset(data, STATUS_NONSENSE, *size);
        return UVK_TRANSFER_DONE;
    }
    return setup[1] < G_N_ELEMENTS(answers) && answers[setup[1]] != NULL
               ? answers[setup[1]](boot, setup, data, size)
               : boot_refuse(boot, UVK_DFU_STALLED);
}

static enum uvk_transfer control(void *self, const uint8_t setup[8], uint8_t *data,
                                 size_t *size)
{
    struct uvk_dfu_boot *boot = self;

    boot->heard = true;
    return (setup[0] & 0x7F) == CLASS ? class_request(boot, setup, data, size)
                                      : standard(boot, setup, data, size);
}

/* A reset of the bus starts what was taken whole; anything else stays in the bootloader. */
static void released(void *self)
{
    struct uvk_dfu_boot *boot = self;

    boot->left = boot->left || boot->whole;
    boot->state = UVK_DFU_IDLE;
    boot->status = UVK_DFU_OK;
}

struct uvk_dfu_boot *uvk_dfu_boot_new(const struct uvk_chip *chip,
                                      const struct uvk_dfu_kind *kind,
                                      const struct uvk_dfu_faults *faults)
{
    struct uvk_dfu_boot *boot = g_new0(struct uvk_dfu_boot, 1);

    boot->chip = chip;
    boot->kind = *kind;
    boot->faults = *faults;
    boot->gadget = (struct uvk_gadget){boot, control, NULL, NULL, released};
    boot->flash = g_malloc(chip->flash);
    memset(boot->flash, 0xFF, chip->flash);
    uvk_dfu_boot_begin(boot, false);
    return boot;
}

void uvk_dfu_boot_free(struct uvk_dfu_boot *boot)
{
    if (boot != NULL) {
        g_free(boot->flash);
        g_free(boot);
    }
}

const struct uvk_gadget *uvk_dfu_boot_gadget(const struct uvk_dfu_boot *boot)
{
    return &boot->gadget;
}

void uvk_dfu_boot_begin(struct uvk_dfu_boot *boot, bool mended)
{
    if (mended) {
        memset(&boot->faults, 0, sizeof boot->faults);
    }
    boot->struck = false;
    boot->state = UVK_DFU_IDLE;
    boot->status = UVK_DFU_OK;
    boot->failure = UVK_DFU_OK;
    boot->requests = 0;
    boot->polls = 0;
    boot->asked = BOOT_NOTHING;
    boot->starts = false;
    boot->whole = false;
    boot->left = false;
    boot->vanished = false;
    boot->heard = false;
}

bool uvk_dfu_boot_left(const struct uvk_dfu_boot *boot)
{
    return boot->left;
}

bool uvk_dfu_boot_vanished(const struct uvk_dfu_boot *boot)
{
    return boot->vanished;
}

bool uvk_dfu_boot_struck(const struct uvk_dfu_boot *boot)
{
    return boot->struck;
}

bool uvk_dfu_boot_heard(const struct uvk_dfu_boot *boot)
{
    return boot->heard;
}

uint8_t *uvk_dfu_boot_flash(struct uvk_dfu_boot *boot)
{
    return boot->flash;
}
