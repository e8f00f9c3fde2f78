<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost;

/** Otterpost's handles: a number or a raft's name, then a suffix that differs by platform. */
final class Handle
{
    public const ANDROID_SUFFIX = '~river';
    public const IOS_SUFFIX = '~stream';

    /** The platform-neutral key. A handle without the expected suffix stays as it is, so that nothing is mixed up. */
    public static function toKey(string $handle, string $suffix): string
    {
        return str_ends_with($handle, $suffix) ? substr($handle, 0, -strlen($suffix)) : $handle;
    }

    /** Such that toKey() gives the key back, also where it looks like a handle itself. */
    public static function fromKey(string $key, string $suffix): string
    {
        return str_contains($key, '~') && !str_ends_with($key, $suffix) ? $key : $key.$suffix;
    }

    /** The E.164 number in a key, if it is one. */
    public static function number(string $key): ?string
    {
        return 1 === preg_match('/^\+[1-9]\d{5,14}$/', $key) ? $key : null;
    }
}
