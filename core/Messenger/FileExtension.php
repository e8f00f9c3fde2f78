<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Chat\Attachment;

/** How a stored attachment file ends, whatever the sender called it. */
final class FileExtension
{
    private const BY_TYPE = [
        'image/jpeg' => 'jpg', 'image/png' => 'png', 'image/gif' => 'gif', 'image/webp' => 'webp', 'video/mp4' => 'mp4',
        'audio/wav' => 'wav', 'audio/ogg' => 'ogg', 'application/pdf' => 'pdf', 'text/plain' => 'txt',
        'text/vcard' => 'vcf',
    ];

    /** A short extension that every file system takes. */
    public static function for(Attachment $attachment): string
    {
        if (isset(self::BY_TYPE[$attachment->mediaType])) {
            return self::BY_TYPE[$attachment->mediaType];
        }

        return 1 === preg_match('/\.([A-Za-z0-9]{1,8})$/', $attachment->shownName ?? '', $found)
            ? strtolower($found[1])
            : 'bin';
    }
}
