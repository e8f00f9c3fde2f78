<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\StoreEditor;

/**
 * What a store that came from elsewhere says of its attachments is held against the files that came with it: what is
 * not there is not there, whatever it says.
 */
final readonly class SettledAttachments
{
    private const PORTION = 500;

    public function __construct(private string $store)
    {
    }

    /**
     * @param AttachmentFiles $files as they lie below the messenger's data folder
     *
     * @return array{absent: int, other: int} how many said to be there and are not, or are something else
     */
    public function settle(AttachmentFiles $files, Progress $progress): array
    {
        $chats = new ChatStore($this->store);
        $files = new ContentFiles($files, $chats);
        $database = new Database(new \SQLite3($this->store));
        $editor = new StoreEditor($database);
        $counts = ['absent' => 0, 'other' => 0];
        $database->execute('BEGIN');
        $last = 0;
        while ([] !== ($rows = $database->few(
            'SELECT DISTINCT message_id FROM attachment WHERE message_id > ? ORDER BY message_id LIMIT ?',
            [$last, self::PORTION],
        ))) {
            foreach ($rows as $row) {
                $last = $row->int('message_id');
                $this->message($last, $chats, $editor, $files, $counts);
                $progress->advance(1);
            }
        }
        $editor->finish();
        $database->execute('COMMIT');
        $chats->close();
        $database->close();
        foreach (['absent' => 'attachment_not_carried', 'other' => 'attachment_other_content'] as $what => $code) {
            if ($counts[$what] > 0) {
                StoreEditor::addFinding($this->store, $code, '', null, $counts[$what]);
            }
        }

        return $counts;
    }

    /** @param array{absent: int, other: int} $counts */
    private function message(
        int $id,
        ChatStore $chats,
        StoreEditor $editor,
        AttachmentFiles $files,
        array &$counts,
    ): void {
        $before = $chats->message($id)->message ?? throw new \LogicException('It was listed.');
        $settled = [];
        $isOther = false;
        foreach ($before->attachments as $attachment) {
            $found = $files->look($attachment->path, $attachment->mediaType);
            $settled[] = $after = $attachment->asFound($found);
            $isOther = $isOther || $attachment->presence !== $after->presence || !self::isSame($attachment, $after);
            if ($attachment->presence->hasFile() && !$after->presence->hasFile()) {
                ++$counts['absent'];
            } elseif ($after->presence->hasFile() && !self::isSame($attachment, $after)) {
                ++$counts['other'];
            }
        }
        if ($isOther) {
            $editor->message($id, $before, $before->with(['attachments' => $settled]));
        }
    }

    private static function isSame(Attachment $said, Attachment $found): bool
    {
        return $said->sha256 === $found->sha256 && $said->bytes === $found->bytes
            && $said->presence->hasBytes() === $found->presence->hasBytes();
    }
}
