/* dfu.h - USB Device Class Specification for Device Firmware Upgrade, version 1.1, and the
 * extension that Atmel published for the bootloaders in its AVR chips (document 7618, "USB DFU
 * Bootloader Datasheet"). What both ends of the wire know.
 */
#ifndef UVREK_DFU_H
#define UVREK_DFU_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

/* The interface (4.2.3). */
#define UVK_DFU_CLASS    0xFEu
#define UVK_DFU_SUBCLASS 1u
#define UVK_DFU_PROTOCOL 2u /* in DFU mode; 1 is a device that can be brought there */

/* The functional descriptor (4.1.3). */
#define UVK_DFU_FUNCTIONAL      0x21u /* its type */
#define UVK_DFU_FUNCTIONAL_SIZE 9u
#define UVK_DFU_CAN_DOWNLOAD    0x01u
#define UVK_DFU_CAN_UPLOAD      0x02u
#define UVK_DFU_TOLERANT        0x04u /* it answers after manifestation */
#define UVK_DFU_WILL_DETACH     0x08u

/* Requests (3). */
enum uvk_dfu_request {
    UVK_DFU_DETACH,
    UVK_DFU_DNLOAD,
    UVK_DFU_UPLOAD,
    UVK_DFU_GETSTATUS,
    UVK_DFU_CLRSTATUS,
    UVK_DFU_GETSTATE,
    UVK_DFU_ABORT
};
#define UVK_DFU_STATUS_SIZE 6u /* status, three bytes of milliseconds, state, a string */

/* States (6.1.2). */
enum uvk_dfu_state {
    UVK_DFU_APP_IDLE,
    UVK_DFU_APP_DETACH,
    UVK_DFU_IDLE,
    UVK_DFU_DOWNLOAD_SYNC,
    UVK_DFU_BUSY,
    UVK_DFU_DOWNLOAD_IDLE,
    UVK_DFU_MANIFEST_SYNC,
    UVK_DFU_MANIFEST,
    UVK_DFU_MANIFEST_WAIT_RESET,
    UVK_DFU_UPLOAD_IDLE,
    UVK_DFU_ERROR
};

/* What went wrong (6.1.2). */
enum uvk_dfu_status {
    UVK_DFU_OK,
    UVK_DFU_TARGET,
    UVK_DFU_FILE,
    UVK_DFU_WRITE,
    UVK_DFU_ERASE,
    UVK_DFU_CHECK_ERASED,
    UVK_DFU_PROGRAM,
    UVK_DFU_VERIFY,
    UVK_DFU_ADDRESS,
    UVK_DFU_NOT_DONE,
    UVK_DFU_FIRMWARE,
    UVK_DFU_VENDOR,
    UVK_DFU_USB_RESET,
    UVK_DFU_POWER_ON,
    UVK_DFU_UNKNOWN,
    UVK_DFU_STALLED
};

/* The suffix of files (appendix B), from its first byte on. */
#define UVK_DFU_SUFFIX_SIZE 16u
#define UVK_DFU_ANY_ID      0xFFFFu

/* ---- Atmel's extension: commands in the data of DNLOAD ---------------------------------- */

#define UVK_DFU_PROGRAM_COMMAND 0x01u /* 0, first address, last address; then see below */
#define UVK_DFU_DISPLAY_COMMAND 0x03u /* 0, first address, last address; UPLOAD brings it */
#define UVK_DFU_WRITE_COMMAND   0x04u
#define UVK_DFU_READ_COMMAND    0x05u /* kind, which; UPLOAD brings one byte */

/* After WRITE: */
#define UVK_DFU_ERASE_ALL 0x00u /* then 0xFF */
#define UVK_DFU_START     0x03u /* then 0: by a reset; an empty DNLOAD carries it out */

/* After READ: */
#define UVK_DFU_READ_IDS     0x01u
#define UVK_DFU_MAKER_CODE   0x30u /* the signature, byte by byte */
#define UVK_DFU_FAMILY_CODE  0x31u
#define UVK_DFU_PRODUCT_CODE 0x60u

/* The data of PROGRAM begin behind the command, filled up to a control packet, and as many
 * bytes more as the first address is behind a multiple of that; a suffix ends them. */
#define UVK_DFU_PACKET     32u
#define UVK_DFU_AT_ONCE    1024u /* bytes that are programmed or displayed at once */
#define UVK_DFU_RANGE_SIZE 6u

#ifdef __cplusplus
}
#endif

#endif
