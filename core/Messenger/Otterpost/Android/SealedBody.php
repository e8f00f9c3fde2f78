<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

/** What comes behind the header of a sealed backup, and what opens it. */
final readonly class SealedBody
{
    /**
     * @param resource $file   at the beginning of the body
     * @param string   $name   for what is said of it
     * @param string   $header which each piece is bound to
     * @param string   $secret 32 bytes
     * @param int      $piece  bytes of a piece
     * @param int      $length bytes of all of them
     */
    public function __construct(
        public mixed $file,
        public string $name,
        public string $header,
        #[\SensitiveParameter] public string $secret,
        public int $piece,
        public int $length,
    ) {
    }
}
