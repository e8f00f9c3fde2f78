<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\App\CheckCodes;
use Geschenk\App\Entity\ReadingCopy;

/**
 * The check code on each page of a conversation on paper. It is made of the backup and of all that stands in that file:
 * whoever brings a page is told whether it comes from here, and of what; the same chats, laid out once more, are the
 * same page.
 *
 * @phpstan-import-type Part from ReadingCopy
 */
final readonly class PaperCodes
{
    private const PURPOSE = 'codes of conversations on paper';

    public function __construct(private CheckCodes $codes)
    {
    }

    /**
     * @param string $backup      id
     * @param string $fingerprint of it
     * @param Part   $part
     */
    public function of(string $backup, string $fingerprint, array $part): string
    {
        return $this->codes->of(self::PURPOSE, self::told($backup, $fingerprint, $part));
    }

    /**
     * @param iterable<ReadingCopy> $copies
     *
     * @return array{copy: ReadingCopy, fingerprint: string, part: Part}|null what a code was made of; null where none
     *                                                                        of them has it
     */
    public function find(iterable $copies, string $typed): ?array
    {
        foreach ($copies as $copy) {
            $paper = $copy->paper() ?? ['fingerprint' => '', 'parts' => []];
            foreach ($paper['parts'] as $part) {
                $told = self::told($copy->backup->id, $paper['fingerprint'], $part);
                if ($this->codes->isOf(self::PURPOSE, $told, $typed)) {
                    return ['copy' => $copy, 'fingerprint' => $paper['fingerprint'], 'part' => $part];
                }
            }
        }

        return null;
    }

    /** @param Part $part */
    private static function told(string $backup, string $fingerprint, array $part): string
    {
        return implode(' ', [
            $backup, $fingerprint, $part['sha256'], $part['messages'], $part['first'], $part['last'],
        ]);
    }
}
