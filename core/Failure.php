<?php

declare(strict_types=1);

namespace Geschenk\Core;

/**
 * Something that a person has to be told: a code with fields, and no sentence. The words for it are found where
 * somebody reads, under "failure" in translations/. What a library said about it is the exception before, for the log
 * alone.
 */
abstract class Failure extends \RuntimeException
{
    /**
     * @param string                    $reason names what happened, for instance "cut_short"
     * @param array<string, string|int> $fields what the words need: where, how much. A path, messenger or field that
     *                                          begins with "@" is one that translations/ list under "where"; what
     *                                          ends in "_bytes" is a size, in "_number" a phone number
     */
    final protected function __construct(
        public readonly string $reason,
        public readonly array $fields = [],
        ?\Throwable $previous = null,
    ) {
        $told = json_encode($fields, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE);
        parent::__construct($reason.([] === $fields ? '' : ' '.$told), 0, $previous);
    }
}
