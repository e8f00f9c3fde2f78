<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** A backup that a messenger made of itself on the phone, as it can be seen from outside. */
final readonly class LocalBackup
{
    /**
     * @param string          $path            of the file with the chats, below the app's data folder
     * @param string          $changed         differs once the file does, as the phone lists it
     * @param int             $madeAt          s since 1970 UTC, as the phone's clock has it
     * @param int             $bytes           of that file
     * @param BackupLock|null $lock            null when it is of no known sort
     * @param int             $attachments     files beside it
     * @param int             $attachmentBytes of those files
     * @param int             $videos          how many of them are videos
     */
    public function __construct(
        public string $path,
        public string $changed,
        public int $madeAt,
        public int $bytes,
        public ?BackupLock $lock,
        public int $attachments,
        public int $attachmentBytes,
        public int $videos,
    ) {
    }

    /** The folder that its attachments lie below as they do below the app's data folder; with its slash, or empty. */
    public static function above(string $path): string
    {
        return str_contains($path, '/') ? dirname($path).'/' : '';
    }
}
