/* usbip.h - USB/IP, version 1.1.1: USB over TCP, as Linux has it (Documentation/usb/
 * usbip_protocol.rst of the kernel). What both ends of the wire know.
 *
 * 1. Numbers are big endian. The SETUP packet and the descriptors are as USB has them.
 * 2. A connection begins with one request: for the list of devices, or for one of them. After
 *    a device has been given, the connection carries its transfers, until it is closed.
 */
#ifndef UVREK_USBIP_H
#define UVREK_USBIP_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_USBIP_PORT    3240u /* as IANA has it */
#define UVK_USBIP_VERSION 0x0111u

/* Requests and answers that begin a connection: version, code, status. */
#define UVK_USBIP_HEADER      8u
#define UVK_USBIP_ASK_LIST    0x8005u
#define UVK_USBIP_LIST        0x0005u
#define UVK_USBIP_ASK_DEVICE  0x8003u
#define UVK_USBIP_DEVICE      0x0003u
#define UVK_USBIP_NAME        32u /* bytes of a device's name, filled with zeros */
#define UVK_USBIP_DEVICE_SIZE 312u
#define UVK_USBIP_LIST_MOST   64u /* devices that this program reads of a list */
#define UVK_USBIP_INTERFACE   4u  /* class, subclass, protocol, a zero */
#define UVK_USBIP_FULL_SPEED  2u
#define UVK_USBIP_NO_SUCH     1u /* status: no, or not now */

/* Where what stands in the description of a device. */
#define UVK_USBIP_AT_NAME       256u
#define UVK_USBIP_AT_BUS        288u
#define UVK_USBIP_AT_NUMBER     292u
#define UVK_USBIP_AT_SPEED      296u
#define UVK_USBIP_AT_VENDOR     300u
#define UVK_USBIP_AT_PRODUCT    302u
#define UVK_USBIP_AT_RELEASE    304u
#define UVK_USBIP_AT_CLASS      306u /* class, subclass, protocol */
#define UVK_USBIP_AT_CONFIG     309u /* the configuration that is set, how many there are */
#define UVK_USBIP_AT_INTERFACES 311u /* how many there are */

/* A transfer, its end, and how it is taken back. */
#define UVK_USBIP_PACKET      48u /* then the data, if there are any */
#define UVK_USBIP_SUBMIT      1u
#define UVK_USBIP_UNLINK      2u
#define UVK_USBIP_DONE        3u
#define UVK_USBIP_UNLINKED    4u
#define UVK_USBIP_AT_CODE     0u
#define UVK_USBIP_AT_SEQUENCE 4u
#define UVK_USBIP_AT_DEVICE   8u  /* bus << 16 | number; 0 in answers */
#define UVK_USBIP_AT_IN       12u /* 1: from the device to the host */
#define UVK_USBIP_AT_ENDPOINT 16u
#define UVK_USBIP_AT_STATUS   20u /* of answers: 0, or an error of Linux, negative */
#define UVK_USBIP_AT_VICTIM   20u /* UNLINK: the sequence number of the transfer */
#define UVK_USBIP_AT_LENGTH   24u /* asked for; of answers: transferred */
#define UVK_USBIP_AT_SETUP    40u

/* Errors as they go over the wire, whatever system is at the other end. */
#define UVK_USBIP_STALL (-32)
#define UVK_USBIP_GONE  (-104) /* taken back before it was done */
#define UVK_USBIP_NONE  (-19)  /* the device is not there */

static inline uint32_t uvk_big32(const uint8_t *at)
{
    return (uint32_t)at[0] << 24 | (uint32_t)at[1] << 16 | (uint32_t)at[2] << 8 | at[3];
}

static inline uint16_t uvk_big16(const uint8_t *at)
{
    return (uint16_t)(at[0] << 8 | at[1]);
}

static inline void uvk_put_big32(uint8_t *at, uint32_t value)
{
    at[0] = (uint8_t)(value >> 24);
    at[1] = (uint8_t)(value >> 16);
    at[2] = (uint8_t)(value >> 8);
    at[3] = (uint8_t)value;
}

static inline void uvk_put_big16(uint8_t *at, unsigned value)
{
    at[0] = (uint8_t)(value >> 8);
    at[1] = (uint8_t)value;
}

#ifdef __cplusplus
}
#endif

#endif
