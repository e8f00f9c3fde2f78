<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoredMessage;

/** Messages as rows of a table, whatever that is written in. */
final class TableRows
{
    public const COLUMNS = ['conversation', 'time', 'sender', 'kind', 'text', 'besides', 'files', 'marks'];
    /** The one that is a moment, as Told::iso() has it. */
    public const TIME = 1;

    /** @return list<string> */
    public static function heads(CopyContext $of): array
    {
        return array_map(
            static fn (string $column): string => $of->told->say('copy_column.'.$column), self::COLUMNS,
        );
    }

    /** @return \Generator<int, list<string>> a field a column */
    public static function of(CopyContext $of, Progress $progress): \Generator
    {
        foreach ($of->extract->conversations() as $conversation) {
            $title = $of->told->title($conversation->id);
            foreach ($of->extract->messages($conversation->id) as $message) {
                yield self::row($of, $title, $message);
                $progress->advance(1);
            }
        }
    }

    /** @return list<string> */
    private static function row(CopyContext $of, string $title, StoredMessage $stored): array
    {
        $message = $stored->message;
        $files = [];
        foreach (array_keys($message->attachments) as $place) {
            $files[] = $of->file($stored, $place)
                ?? $of->told->say($of->isSpoilt($stored, $place) ? 'copy.spoilt' : 'copy.no_file');
        }

        return [
            $title, $of->told->iso($message->sentAt), $of->told->sender($message), $of->told->kind($message),
            $of->told->text($message) ?? '', $of->told->besides($message) ?? '', implode("\n", $files),
            implode(', ', $of->told->marks($message)),
        ];
    }
}
