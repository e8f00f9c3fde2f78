<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Move;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Time;
use Geschenk\App\Tray\HandOver\EyeCheck;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\MessageRow;

/**
 * What eyes compare: the first screenful of both phones as they show it, and some pictures drawn by chance. The left is
 * the backup of the phone that gives, the right what was read back from the one that receives.
 */
final readonly class EyeView
{
    private const ROWS = 10;
    private const PICTURES = 4;
    private const DRAWN = 60;

    public function __construct(private MoveFiles $files)
    {
    }

    /** @return array<string, mixed>|null null where nothing was read back, or it is gone */
    public function of(Move $move, int $seed, bool $isUncovered): ?array
    {
        $backup = $move->backup();
        if (null === $backup || !$this->files->hasReadBack($move)) {
            return null;
        }
        $gives = $this->files->chats($backup);
        $receives = $this->files->wasReadBack($move);
        $expected = $this->files->plan($move);
        $left = $this->side($gives, $isUncovered);
        $right = $this->side($receives, $isUncovered);
        $there = array_map(static fn (array $row): string => $row['mark'], $right);
        $ticked = [];
        foreach (EyeCheck::POINTS as $point) {
            $eye = $move->bringing()->eyes()[$point] ?? null;
            $ticked[] = ['point' => $point, 'by' => $eye['by'] ?? null, 'at' => null === $eye
                ? null
                : Time::ofMilliseconds($eye['at'] * 1000)];
        }

        return [
            'covered' => !$isUncovered, 'seed' => $seed, 'points' => $ticked,
            'gives' => array_map(fn (array $row): array => [
                ...array_diff_key($row, ['mark' => 0, 'key' => 0]), 'is' => in_array($row['mark'], $there, true)
                    ? 'same'
                    : $this->fate($expected, $row['key'], $receives),
            ], $left),
            'receives' => array_map(static fn (array $row): array => [
                ...array_diff_key($row, ['mark' => 0, 'key' => 0]), 'is' => in_array(
                    $row['mark'], array_map(static fn (array $l): string => $l['mark'], $left), true,
                ) ? 'same' : (Fate::Kept === $expected->conversation($row['key'])?->fate ? 'kept' : 'other'),
            ], $right),
            'pictures' => $this->pictures($gives, $receives, $seed),
        ];
    }

    /** @return list<string>|null the pictures that a seed draws, of both phones; null where nothing was read back */
    public function drawn(Move $move, int $seed): ?array
    {
        $backup = $move->backup();
        if (null === $backup || !$this->files->hasReadBack($move)) {
            return null;
        }
        $chats = [$this->files->chats($backup), $this->files->wasReadBack($move)];
        $drawn = [];
        foreach ($this->pictures($chats[0], $chats[1], $seed) as $one) {
            foreach (['gives', 'receives'] as $side) {
                $drawn[] = self::piece($side, $one[$side]['conversation'], $one[$side]['message']);
            }
        }

        return $drawn;
    }

    public static function piece(string $side, int $conversation, int $message): string
    {
        return "$side/$conversation/$message";
    }

    /** @return string|null JPEG bytes of a preview; null where there is none */
    public function picture(Move $move, string $side, int $conversation, int $message): ?string
    {
        $backup = $move->backup();
        if (null === $backup || !$this->files->hasReadBack($move)) {
            return null;
        }
        $chats = 'gives' === $side
            ? $this->files->chats($backup)
            : $this->files->wasReadBack($move);
        $preview = $chats->previewIn($conversation, $message);

        return null !== $preview && str_starts_with($preview, "\xFF\xD8\xFF") ? $preview : null;
    }

    /**
     * @return list<array{
     *     mark: string, key: string, title: string, unread: int, pinned: bool, last: array<string, mixed>|null,
     * }>
     */
    private function side(ChatStore $chats, bool $isUncovered): array
    {
        $view = new MessageView($chats, $isUncovered);
        $rows = [];
        foreach ($chats->firstScreen(self::ROWS) as $row) {
            $conversation = $chats->conversationById($row['id'])->conversation;
            $last = null === $row['last_id'] ? null : $chats->glimpse($row['last_id']);
            $rows[] = [
                'mark' => $row['key']."\0".(null === $last ? '' : MessageRow::identity($last->message)),
                'key' => $row['key'], 'title' => mb_scrub($chats->titleOf($row['id'])),
                'unread' => $conversation->unread, 'pinned' => null !== $conversation->pinPlace,
                'last' => null === $last ? null : $view->of($row['id'], $last),
            ];
        }

        return $rows;
    }

    /** Why a conversation of the one phone does not stand so on the other. */
    private function fate(ChatStore $expected, string $key, ChatStore $receives): string
    {
        $meant = $expected->conversation($key);

        return match (true) {
            null !== $meant && !$meant->fate->isWritten() => 'left_out',
            null !== $receives->conversation($key) => 'elsewhere',
            default => 'missing',
        };
    }

    /**
     * @return list<array{
     *     title: string, sent_at: string|null, gives: array{conversation: int, message: int},
     *     receives: array{conversation: int, message: int},
     * }>
     */
    private function pictures(ChatStore $gives, ChatStore $receives, int $seed): array
    {
        $pictures = [];
        foreach ($receives->somePictures(self::DRAWN, $seed) as $one) {
            $there = $gives->find($one['key'], $one['identity']);
            $conversation = $gives->conversation($one['key']);
            if (null === $there || null === $conversation || self::PICTURES === count($pictures)) {
                // The phone had it before: there is nothing to compare it with.
                continue;
            }
            $pictures[] = [
                'title' => mb_scrub($receives->titleOf($one['conversation_id'])),
                'sent_at' => Time::ofMilliseconds($receives->glimpse($one['id'])?->message->sentAt),
                'gives' => ['conversation' => $conversation->id, 'message' => $there],
                'receives' => ['conversation' => $one['conversation_id'], 'message' => $one['id']],
            ];
        }

        return $pictures;
    }
}
