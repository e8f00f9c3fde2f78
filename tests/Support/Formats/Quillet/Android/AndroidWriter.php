<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Formats\Quillet\Android;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;

/** Writes an event log: the events of a message go to whatever file, and before it what was done to it. */
final class AndroidWriter implements Writer
{
    private string $folder;
    private AttachmentFiles $files;
    /** @var array<string, resource> by path */
    private array $logs = [];
    private int $events = 0;
    private int $kept = 0;

    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void
    {
        $progress->phase('writing', $chats->writtenCount());
        Folder::make($folder.'/log');
        Folder::make($folder.'/kept');
        $this->folder = $folder;
        $this->files = $files;
        $source = $chats->source();
        $this->put(AndroidFormat::SELF, [
            'do' => 'self', 'quillet' => 1, 'number' => $source->account, 'name' => $source->accountName,
            'edition' => $source->edition,
        ]);
        foreach ($chats->people() as $person) {
            $this->put(AndroidFormat::SELF, [
                'do' => 'who', 'key' => $person->key, 'number' => $person->number, 'book' => $person->bookName,
                'own' => $person->ownName, 'barred' => $person->barred, 'more' => $person->otherNumbers,
                'former' => $person->formerKey,
            ]);
        }
        foreach ($chats->labels() as $label) {
            $this->put(AndroidFormat::SELF, ['do' => 'label', 'name' => $label->name, 'tint' => $label->tint]);
        }
        foreach ($chats->cannedAnswers() as $answer) {
            $this->put(AndroidFormat::SELF, ['do' => 'answer', 'short' => $answer->shortcut, 'text' => $answer->text]);
        }
        for ($shard = 0; $shard < AndroidFormat::SHARDS; ++$shard) {
            $this->log(AndroidFormat::shard($shard));
        }
        foreach ($chats->conversations() as $stored) {
            if (!$stored->fate->isWritten()) {
                continue;
            }
            $this->conversation($stored->conversation);
            foreach ($chats->messages($stored->id) as $message) {
                if ($message->fate->isWritten()) {
                    $this->message($stored->conversation->key, $message->place, $message->message);
                    $progress->advance(1);
                }
            }
        }
        foreach ($this->logs as $path => $log) {
            Disk::finish($log, $path);
        }
    }

    private function conversation(Conversation $c): void
    {
        $this->put(AndroidFormat::SELF, [
            'do' => 'room', 'key' => $c->key, 'kind' => $c->kind->value, 'title' => $c->title, 'about' => $c->about,
            'created' => $c->createdAt, 'archived' => $c->archived, 'pin' => $c->pinPlace, 'muted' => $c->mutedUntil,
            'unread' => $c->unread, 'wallpaper' => $c->wallpaper, 'timer' => $c->timerSeconds, 'draft' => $c->draft,
            'marked' => $c->markedUnread, 'picture' => $c->picture, 'labels' => $c->labels, 'hidden' => $c->hidden,
            'opaque' => [] === $c->opaque ? null : SafeJson::encode($c->opaque),
            'members' => array_map(static fn (Member $m): array => [
                'key' => $m->personKey, 'role' => $m->role->value, 'joined' => $m->joinedAt, 'left' => $m->leftAt,
            ], $c->members),
        ]);
    }

    private function message(string $room, int $place, Message $message): void
    {
        $id = ['room' => $room, 'id' => (string) $place];
        foreach ($message->attachments as $n => $attachment) {
            $this->scatter(['do' => 'keep', ...$id, 'n' => $n, ...$this->keep($attachment)]);
        }
        foreach ($message->reactions as $reaction) {
            $this->scatter([
                'do' => 'nod', ...$id, 'who' => $reaction->personKey, 'sign' => $reaction->sign,
                'at' => $reaction->givenAt,
            ]);
        }
        foreach ($message->receipts as $receipt) {
            $this->scatter([
                'do' => 'mark', ...$id, 'who' => $receipt->personKey, 'came' => $receipt->deliveredAt,
                'read' => $receipt->readAt, 'heard' => $receipt->heardAt,
            ]);
        }
        if (null !== $message->editedAt) {
            $this->scatter(['do' => 'mend', ...$id, 'at' => $message->editedAt]);
        }
        $bare = $message->with(['attachments' => [], 'reactions' => [], 'receipts' => [], 'editedAt' => null]);
        $this->scatter(['do' => 'say', ...$id, 'no' => $place, 'row' => MessageRow::values($bare)]);
    }

    /** @return array<string, scalar|null> what the log says of it */
    private function keep(Attachment $attachment): array
    {
        $path = sprintf('kept/%06d', ++$this->kept);
        $key = ContentKey::random(Cipher::SecretStream);
        $content = $attachment->presence->hasFile() ? $this->files->open($attachment->path) : null;
        if (null !== $content) {
            $file = Disk::open($this->folder.'/'.$path, 'w');
            foreach (LockedContent::lock($content, $key) as $piece) {
                Disk::write($file, $piece, $path);
            }
            Disk::finish($file, $path);
            fclose($content);
        }

        return [
            'path' => $path, 'key' => $key->bytes, 'name' => $attachment->shownName, 'type' => $attachment->mediaType,
            'bytes' => $attachment->bytes, 'span' => $attachment->durationMs, 'width' => $attachment->width,
            'height' => $attachment->height, 'preview' => $attachment->preview, 'motion' => $attachment->isMotion,
        ];
    }

    /** @param array<string, mixed> $event */
    private function scatter(array $event): void
    {
        $this->put(AndroidFormat::shard(crc32((string) ++$this->events) % AndroidFormat::SHARDS), $event);
    }

    /** @param array<string, mixed> $event */
    private function put(string $path, array $event): void
    {
        Disk::write($this->log($path), SafeJson::encode($event)."\n", $path);
    }

    /** @return resource */
    private function log(string $path): mixed
    {
        return $this->logs[$path] ??= Disk::open($this->folder.'/'.$path, 'w');
    }
}
