<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\ShownRow;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoredMessage;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Twig\Environment;

/**
 * Pages that a browser opens from the stick, with no network: a list, the conversations in pages, a search. What a
 * phone brought is text in them, whatever it says; their own script is the only one that may run.
 *
 * @phpstan-type Entry array{
 *     id: int, title: string, kind: string, messages: int, first: string, last: string, pages: int, lost: int,
 * }
 */
#[AsTaggedItem(priority: 50)]
final class PagesForm implements Form
{
    public const FILE = 'index.html';
    public const FOLDER = 'pages';
    /** Messages on a page. */
    public const PAGE = 500;
    /** Messages in a part of what is searched: none is held longer than it takes to look through it. */
    private const PART = 4_000;
    /** Letters of a text that are searched. */
    private const SEARCHED = 2_000;
    private const JSON = \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_INVALID_UTF8_SUBSTITUTE
        | \JSON_THROW_ON_ERROR;

    /** @var list<array{string, int, string, string, string, string}> */
    private array $part = [];
    private int $parts = 0;

    public function __construct(
        private readonly Environment $twig,
        #[Autowire('%kernel.project_dir%/templates/copy')] private readonly string $templates,
    ) {
    }

    public static function name(): string
    {
        return 'pages';
    }

    public static function usesFiles(): bool
    {
        return true;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 700 * $messages;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $this->part = [];
        $this->parts = 0;
        foreach (['read.css', 'search.js'] as $name) {
            $of->folder->put(self::FOLDER.'/'.$name, (string) file_get_contents($this->templates.'/'.$name));
        }
        $lost = array_column($of->extract->chats->overview(), 'lost', 'id');
        $list = [];
        foreach ($of->extract->conversations() as $conversation) {
            $list[] = $this->conversation($of, $conversation->id, $lost[$conversation->id] ?? 0, $progress);
        }
        $this->endPart($of);
        $of->folder->put(self::FILE, $this->twig->render('copy/index.html.twig', [
            'language' => $of->language, 'of' => $of->of, 'list' => $list, 'parts' => $this->parts,
            'messages' => array_sum(array_column($list, 'messages')),
            'lost' => array_sum(array_column($list, 'lost')),
        ]));
    }

    /**
     * @param int $lost messages that were in a damaged part of the phone's own database
     *
     * @return Entry
     */
    private function conversation(CopyContext $of, int $id, int $lost, Progress $progress): array
    {
        $count = $of->extract->count($id);
        $kind = $of->extract->chats->conversationById($id)->conversation->kind;
        $entry = [
            'id' => $id, 'title' => $of->told->title($id), 'messages' => $count,
            'kind' => $of->told->say('conversation.'.$kind->value),
            'pages' => max(1, (int) ceil($count / self::PAGE)), 'first' => '', 'last' => '', 'lost' => $lost,
        ];
        $rows = [];
        $page = 1;
        foreach ($of->extract->messages($id) as $message) {
            if (self::PAGE === count($rows)) {
                $this->page($of, $entry, $page++, $rows);
                $rows = [];
            }
            $rows[] = self::row($of, $message);
            $day = $of->told->day($message->message->sentAt);
            $entry['first'] = '' === $entry['first'] ? $day : $entry['first'];
            $entry['last'] = $day;
            $this->find($of, self::file($id, $page), $entry['title'], $message);
            $progress->advance(1);
        }
        $this->page($of, $entry, $page, $rows);

        return $entry;
    }

    /**
     * @param Entry                      $entry
     * @param list<array<string, mixed>> $rows
     */
    private function page(CopyContext $of, array $entry, int $page, array $rows): void
    {
        $of->folder->put(self::FOLDER.'/'.self::file($entry['id'], $page), $this->twig->render(
            'copy/conversation.html.twig', [
                'language' => $of->language, 'of' => $of->of, 'entry' => $entry, 'page' => $page, 'rows' => $rows,
                'before' => $page > 1 ? self::file($entry['id'], $page - 1) : null,
                'behind' => $page < $entry['pages'] ? self::file($entry['id'], $page + 1) : null,
            ],
        ));
    }

    public static function file(int $conversation, int $page): string
    {
        return sprintf('%05d-%04d.html', $conversation, $page);
    }

    /** @return array<string, mixed> the places of its files as a page leads to them */
    private static function row(CopyContext $of, StoredMessage $stored): array
    {
        $row = ShownRow::of($of, $stored);
        foreach ($row['files'] as $n => $file) {
            $row['files'][$n]['path'] = null === $file['path']
                ? null
                : implode('/', array_map(rawurlencode(...), explode('/', $file['path'])));
        }

        return $row;
    }

    private function find(CopyContext $of, string $file, string $title, StoredMessage $stored): void
    {
        $text = trim(($of->told->text($stored->message) ?? '').' '.($of->told->besides($stored->message) ?? ''));
        foreach ($stored->message->attachments as $attachment) {
            $text .= ' '.$of->told::short($attachment->shownName ?? '');
        }
        if ('' === trim($text)) {
            return;
        }
        $this->part[] = [
            $file, $stored->id, $title, $of->told->day($stored->message->sentAt), $of->told->sender($stored->message),
            mb_substr($text, 0, self::SEARCHED),
        ];
        if (self::PART === count($this->part)) {
            $this->endPart($of);
        }
    }

    private function endPart(CopyContext $of): void
    {
        if ([] === $this->part) {
            return;
        }
        ++$this->parts;
        $of->folder->put(
            sprintf('%s/search-%d.js', self::FOLDER, $this->parts), 'part('.json_encode($this->part, self::JSON).')',
        );
        $this->part = [];
    }
}
