<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

/** One entry of the log, as it is stored. */
final readonly class LogLine
{
    /**
     * @param string   $at     UTC, YYYY-MM-DD hh:mm:ss
     * @param int|null $tray   its number
     * @param string   $params JSON
     */
    public function __construct(
        public int $id,
        public string $at,
        public string $by,
        public string $act,
        public ?int $tray,
        public string $params,
    ) {
    }
}
