<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** The first 100 bytes of a database, https://www.sqlite.org/fileformat.html#the_database_header */
final readonly class DatabaseHeader
{
    public const BYTES = 100;
    /** Where two bytes say whether it is journalled or in a write-ahead log. */
    public const JOURNALLING = 18;
    private const MAGIC = "SQLite format 3\0";

    /**
     * @param int  $pageSize      bytes
     * @param int  $pages         as the header says; 0 where it can't be relied on
     * @param int  $reserved      bytes at the end of each page that are not for content
     * @param bool $isUtf8        whether its texts are; an empty database has not decided yet
     * @param int  $userVersion   the application's own number, for instance a generation
     * @param int  $applicationId whose format it is
     * @param bool $isWhole       whether all 100 bytes are there
     */
    private function __construct(
        public int $pageSize,
        public int $pages,
        public int $reserved,
        public bool $isUtf8,
        public int $userVersion,
        public int $applicationId,
        public bool $isWhole,
    ) {
    }

    /** @return self|null null when the file is not there or is no SQLite database */
    public static function of(string $path): ?self
    {
        $bytes = is_file($path) ? (string) @file_get_contents($path, false, null, 0, self::BYTES) : '';
        if (!str_starts_with($bytes, self::MAGIC)) {
            return null;
        }
        $isWhole = self::BYTES === strlen($bytes);
        /**
         * @var array{
         *     page: int, reserved: int, changed: int, pages: int, encoding: int, version: int, application: int,
         *     valid: int,
         * } $n
         */
        $n = unpack(
            'npage/x2/Creserved/x3/Nchanged/Npages/x24/Nencoding/Nversion/x4/Napplication/x20/Nvalid',
            substr(str_pad($bytes, self::BYTES, "\0"), 16),
        );
        // The page count is only meaningful while the two change counters agree.
        $pages = $n['changed'] === $n['valid'] ? $n['pages'] : 0;

        return new self(
            1 === $n['page'] ? 65536 : $n['page'], $pages, $n['reserved'], $n['encoding'] < 2, $n['version'],
            $n['application'], $isWhole,
        );
    }
}
