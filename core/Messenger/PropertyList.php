<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/**
 * XML property lists as Otterpost keeps them: dict, array, string, integer, real, data, true and false.
 * A string that XML can't carry (NUL, control characters, invalid UTF-8) is written as data.
 */
final class PropertyList
{
    private const HEAD = '<?xml version="1.0" encoding="UTF-8"?>'."\n".'<plist version="1.0">';

    private const DEPTH = 16;

    /** @param array<array-key, mixed> $value nested arrays of scalars; null values are left out */
    public static function write(array $value): string
    {
        return self::HEAD.self::element($value).'</plist>';
    }

    /** @param string $inner what pairs(), text() and real() made */
    public static function dictionary(string $inner): string
    {
        return self::HEAD.'<dict>'.$inner.'</dict></plist>';
    }

    /** @param array<array-key, mixed> $value as for write() */
    public static function pairs(array $value): string
    {
        $inner = '';
        foreach ($value as $key => $part) {
            if (null !== $part) {
                $inner .= '<key>'.self::escape((string) $key).'</key>'.self::element($part);
            }
        }

        return $inner;
    }

    public static function text(string $value): string
    {
        return self::fitsXml($value)
            ? '<string>'.self::escape($value).'</string>'
            : '<data>'.base64_encode($value).'</data>';
    }

    public static function real(float $value): string
    {
        // 17 digits give every double back.
        return '<real>'.sprintf('%.17g', $value).'</real>';
    }

    /**
     * @param array<string, string> $unreadable values that are none, by where they stand; added to
     *
     * @return array<array-key, mixed>
     *
     * @throws \UnexpectedValueException when it is no property list
     */
    public static function read(string $xml, array &$unreadable = []): array
    {
        if ('' === $xml) {
            throw new \UnexpectedValueException('A property list is empty.');
        }
        $plain = self::readPlain($xml);
        if (null !== $plain) {
            return $plain;
        }
        $before = libxml_use_internal_errors(true);
        libxml_clear_errors();
        $reader = null;
        try {
            // Entities are never substituted and nothing is fetched: a foreign list is hostile until proven otherwise.
            // A text may be long; the process that reads has its limits elsewhere.
            $reader = \XMLReader::XML($xml, 'UTF-8', \LIBXML_NONET | \LIBXML_PARSEHUGE);
            if (!$reader instanceof \XMLReader) {
                throw new \UnexpectedValueException('A property list can\'t be read.');
            }
            while (@$reader->read()) {
                if (\XMLReader::ELEMENT === $reader->nodeType && 'plist' !== $reader->name) {
                    $value = self::value($reader, 0, '', $unreadable);
                    self::ensureWhole();
                    if (is_array($value)) {
                        return $value;
                    }
                    break;
                }
            }
            throw new \UnexpectedValueException('A property list holds no dictionary.');
        } finally {
            $reader instanceof \XMLReader && $reader->close();
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }
    }

    /**
     * Lists as the messenger itself writes them, without comments, entities of their own or blank space: nearly all,
     * and there are as many as there are messages. Anything else is left to the XML reader.
     *
     * @return array<array-key, mixed>|null
     */
    private static function readPlain(string $xml): ?array
    {
        if (!str_starts_with($xml, self::HEAD.'<dict>') || str_contains($xml, '<!') || str_contains($xml, "\r")) {
            return null;
        }
        $at = strlen(self::HEAD) + 6;
        $key = null;
        $values = [];
        $isDict = true;
        $outer = [];
        while (true) {
            $end = strpos($xml, '>', $at);
            if (false === $end || '<' !== $xml[$at]) {
                return null;
            }
            $tag = substr($xml, $at + 1, $end - $at - 1);
            $at = $end + 1;
            if ('key' === $tag || 'string' === $tag || 'real' === $tag || 'integer' === $tag || 'data' === $tag) {
                $close = strpos($xml, '<', $at);
                $length = strlen($tag) + 3;
                if (false === $close || 0 !== substr_compare($xml, '</'.$tag.'>', $close, $length)) {
                    return null;
                }
                $value = substr($xml, $at, $close - $at);
                $at = $close + $length;
                if (str_contains($value, '&')) {
                    if (1 === preg_match('/&(?!amp;|lt;|gt;)/', $value)) {
                        return null;
                    }
                    $value = strtr($value, ['&amp;' => '&', '&lt;' => '<', '&gt;' => '>']);
                }
                if ('key' === $tag) {
                    $key = $value;
                    continue;
                }
                if ('real' === $tag || 'integer' === $tag) {
                    if (!is_numeric($value) || ('integer' === $tag && (string) (int) $value !== $value)) {
                        return null;
                    }
                    $value = 'real' === $tag ? (float) $value : (int) $value;
                } elseif ('data' === $tag) {
                    $value = base64_decode($value, true);
                    if (false === $value) {
                        return null;
                    }
                }
            } elseif ('dict' === $tag || 'array' === $tag) {
                if (($isDict && null === $key) || count($outer) > self::DEPTH) {
                    return null;
                }
                $outer[] = [$values, $isDict, $key];
                [$values, $isDict, $key] = [[], 'dict' === $tag, null];
                continue;
            } elseif ('true/' === $tag || 'false/' === $tag) {
                $value = 'true/' === $tag;
            } elseif (($isDict ? '/dict' : '/array') === $tag) {
                if ([] === $outer) {
                    return '</plist>' === substr($xml, $at) ? $values : null;
                }
                $value = $values;
                [$values, $isDict, $key] = array_pop($outer);
            } else {
                return null;
            }
            if (!$isDict) {
                $values[] = $value;
            } elseif (null !== $key) {
                $values[$key] = $value;
                $key = null;
            } else {
                return null;
            }
        }
    }

    private static function element(mixed $value): string
    {
        if (is_array($value)) {
            if (array_is_list($value)) {
                return '<array>'.implode('', array_map(self::element(...), $value)).'</array>';
            }

            return '<dict>'.self::pairs($value).'</dict>';
        }

        return match (true) {
            is_bool($value) => $value ? '<true/>' : '<false/>',
            is_int($value) => '<integer>'.$value.'</integer>',
            is_float($value) => self::real($value),
            is_string($value) => self::text($value),
            default => throw new \UnexpectedValueException(
                sprintf('A property list can\'t hold %s.', get_debug_type($value)),
            ),
        };
    }

    /**
     * @param string                $at         where it stands
     * @param array<string, string> $unreadable
     *
     * @return mixed null for a value that is none, which is noted
     */
    private static function value(\XMLReader $reader, int $depth, string $at, array &$unreadable): mixed
    {
        if ($depth > self::DEPTH) {
            throw new \UnexpectedValueException('A property list is nested too deeply.');
        }
        $name = $reader->name;
        if ('dict' === $name || 'array' === $name) {
            return self::container($reader, $depth, $at, $unreadable);
        }
        $text = self::textOf($reader);
        $isKnown = in_array($name, ['string', 'integer', 'real', 'data', 'true', 'false'], true);
        $value = null === $text || !$isKnown ? null : match ($name) {
            'string' => $text,
            'integer' => 1 === preg_match('/^\s*[+-]?\d{1,18}\s*$/D', $text) ? (int) $text : null,
            'real' => is_numeric(trim($text)) ? (float) $text : null,
            'data' => false === ($bytes = base64_decode((string) preg_replace('/\s+/', '', $text), true))
                ? null
                : $bytes,
            'true' => true,
            'false' => false,
        };
        if (null === $value) {
            $unreadable['' === $at ? $name : $at] = mb_strcut(
                mb_scrub($isKnown ? $text ?? 'an entity' : '<'.$name.'>'), 0, 60,
            );
        }

        return $value;
    }

    /**
     * @param array<string, string> $unreadable
     *
     * @return array<array-key, mixed>
     */
    private static function container(\XMLReader $reader, int $depth, string $at, array &$unreadable): array
    {
        $isDict = 'dict' === $reader->name;
        $values = [];
        $key = null;
        if ($reader->isEmptyElement) {
            return $values;
        }
        $into = static fn (string|int $name): string => '' === $at ? (string) $name : $at.'.'.$name;
        while (@$reader->read() && \XMLReader::END_ELEMENT !== $reader->nodeType) {
            if (\XMLReader::ELEMENT !== $reader->nodeType) {
                if (\XMLReader::ENTITY_REF === $reader->nodeType) {
                    $unreadable[$into('&'.$reader->name.';')] = 'an entity';
                }
                continue;
            }
            if ('key' === $reader->name) {
                $key = self::textOf($reader) ?? 'an entity';
                continue;
            }
            if ($isDict && null === $key) {
                $unreadable[$into('value without a key')] = $reader->name;
            }
            $value = self::value($reader, $depth + 1, $into($key ?? count($values)), $unreadable);
            if ($isDict && null !== $key) {
                $values[$key] = $value;
                $key = null;
            } elseif (!$isDict && null !== $value) {
                $values[] = $value;
            }
        }
        if (\XMLReader::END_ELEMENT !== $reader->nodeType) {
            throw new \UnexpectedValueException('A property list ends in the middle.');
        }

        return $values;
    }

    /**
     * @return string|null the text of the current element, and null when something that is none stands in it; leaves
     * the reader at its end
     */
    private static function textOf(\XMLReader $reader): ?string
    {
        $text = '';
        if ($reader->isEmptyElement) {
            return $text;
        }
        $isText = true;
        $within = 0;
        while (@$reader->read() && (\XMLReader::END_ELEMENT !== $reader->nodeType || $within > 0)) {
            switch ($reader->nodeType) {
                case \XMLReader::TEXT:
                case \XMLReader::CDATA:
                case \XMLReader::SIGNIFICANT_WHITESPACE:
                case \XMLReader::WHITESPACE:
                    $text .= $reader->value;
                    break;
                case \XMLReader::COMMENT:
                case \XMLReader::PI:
                    break;
                case \XMLReader::END_ELEMENT:
                    --$within;
                    break;
                default:
                    // An entity of its own making, or an element.
                    $isText = false;
                    $within += \XMLReader::ELEMENT === $reader->nodeType && !$reader->isEmptyElement ? 1 : 0;
            }
        }
        self::ensureWhole();

        return $isText ? $text : null;
    }

    /** @throws \UnexpectedValueException when the library gave up on the way: what it has read so far is not all */
    private static function ensureWhole(): void
    {
        foreach (libxml_get_errors() as $error) {
            if (\LIBXML_ERR_FATAL === $error->level) {
                throw new \UnexpectedValueException('A property list can\'t be read to its end.');
            }
        }
    }

    private static function escape(string $text): string
    {
        return htmlspecialchars($text, \ENT_XML1 | \ENT_NOQUOTES, 'UTF-8');
    }

    /** Carriage returns don't survive XML line-end handling, so they count as unfit too. */
    private static function fitsXml(string $text): bool
    {
        return 1 === preg_match('/^[\x{9}\x{A}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]*$/uD', $text);
    }
}
